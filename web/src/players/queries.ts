import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../app/api";

/** The players that may be seen. */
export function usePlayers() {
  return useQuery({
    queryKey: ["players"],
    queryFn: () => answered(api.GET("/api/v1/players")),
  });
}
