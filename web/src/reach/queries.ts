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

export function useOtherClub(body: Schemas["OtherClubAsked"] | undefined) {
  return useQuery({
    queryKey: keys.bench.club(body),
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/bench/club", { body: body as Schemas["OtherClubAsked"], signal })),
    enabled: body !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
}

/** How a player delivers a club; nothing is asked without a player. */
export function useDelivery(player: string | undefined, club: string) {
  return useQuery({
    queryKey: keys.bench.delivery(player, club),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/delivery", {
          params: { path: { player: player ?? "" }, query: { club } },
        }),
      ),
    enabled: player !== undefined,
    retry: false,
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
