// What many pages ask: who is signed in, the school, its players.

import { useQuery } from "@tanstack/react-query";
import { useStore } from "zustand";
import { answered, api } from "./api";
import { keys } from "./keys";
import { signedOut } from "./signed-out";

/** The one who is signed in. */
export function useMe() {
  return useQuery({
    queryKey: keys.me,
    queryFn: () => answered(api.GET("/api/v1/me")),
    staleTime: 60_000,
    retry: false,
  });
}

/** Whether the server said that nobody is signed in any more. */
export function useSignedOut(): boolean {
  return useStore(signedOut, (state) => state.out);
}

export function useSchool() {
  return useQuery({
    queryKey: keys.school,
    queryFn: () => answered(api.GET("/api/v1/school")),
  });
}

/** The players that may be seen. */
export function usePlayers() {
  return useQuery({
    queryKey: keys.players,
    queryFn: () => answered(api.GET("/api/v1/players")),
  });
}
