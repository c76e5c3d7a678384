// The bench's questions. A question that is superseded is cancelled.

import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";

export function useFlight(body: Schemas["FlightAsked"]) {
  return useQuery({
    queryKey: keys.bench.flight(body),
    queryFn: ({ signal }) => answered(api.POST("/api/v1/bench/flight", { body, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
}

export function useReach(body: Schemas["ReachAsked"]) {
  return useQuery({
    queryKey: keys.bench.reach(body),
    queryFn: ({ signal }) => answered(api.POST("/api/v1/bench/reach", { body, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 5_000,
    gcTime: 10_000,
  });
}

export function useSaveWindow() {
  return useMutation({
    mutationFn: (save: { player: string; club: string; body: Schemas["NewWindow"] }) =>
      answered(
        api.PUT("/api/v1/players/{player}/target-windows/{club}", {
          params: { path: { player: save.player, club: save.club } },
          body: save.body,
        }),
      ),
  });
}

/** Keeps the address at the state once the hand rests, without a step back for each. */
export function useAddress(address: string) {
  const [, setSearch] = useSearchParams();
  const set = useRef(setSearch);
  set.current = setSearch;
  useEffect(() => {
    const resting = setTimeout(() => set.current(address, { replace: true }), 250);
    return () => clearTimeout(resting);
  }, [address]);
}
