import { useQuery } from "@tanstack/react-query";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Conditions } from "../reach/address";
import { inAir } from "./air";

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

/** What the clubs of a player do in one air; nothing is asked without one. */
export function useGapping(player: string, air: Conditions | undefined) {
  const query = air && inAir(air);
  return useQuery({
    queryKey: keys.player.gapping(player, query),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/gapping", { params: { path: { player }, query } }),
      ),
    enabled: air !== undefined,
    placeholderData: (before) => before,
  });
}

export function usePlayerName(player: string) {
  return useQuery({
    queryKey: keys.player.all(player),
    queryFn: () => answered(api.GET("/api/v1/players/{player}", { params: { path: { player } } })),
  });
}
