import { useQuery } from "@tanstack/react-query";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";

/** Which series of a player's record is looked at; what is left out the server chooses. */
export interface Looked {
  club?: string;
  /** What was swung without a ball, in JSON. */
  swung?: string;
  quantity?: Quantity;
  series?: Schemas["Series"];
}

export function useRecord(player: string, looked: Looked) {
  return useQuery({
    queryKey: keys.player.record(player, looked),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/record", {
          params: { path: { player }, query: looked },
        }),
      ),
    placeholderData: (before) => before,
  });
}
