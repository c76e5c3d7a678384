import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { answered, api, type Schemas } from "../app/api";
import { signedOut } from "../app/signed-out";

export type Role = Schemas["Role"];

export const ROLES: Record<Role, string> = {
  owner: "Owner",
  coach: "Coach",
  assistant: "Assistant",
};

/** The one who is signed in. */
export function useMe() {
  return useQuery({
    queryKey: ["me"],
    queryFn: () => answered(api.GET("/api/v1/me")),
    staleTime: 60_000,
    retry: false,
  });
}

/** Whether the server said that nobody is signed in any more. */
export function useSignedOut(): boolean {
  return useSyncExternalStore(signedOut.subscribe, signedOut.get);
}

/** Comes in, by whatever was asked: everything is read again as the one who came. What is
 * on the page stays there meanwhile. */
export function useComingIn<T>(ask: (given: T) => Promise<unknown>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ask,
    onSuccess: async () => {
      queries.removeQueries({ type: "inactive" });
      if (queries.getQueryData(["me"]) === undefined) {
        await queries.resetQueries({ queryKey: ["me"] });
      }
      signedOut.set(false);
      await queries.invalidateQueries();
    },
  });
}

/** Goes out, here or everywhere; nothing that was read stays. */
export function useGoingOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (everywhere: boolean) =>
      answered(api.DELETE(everywhere ? "/api/v1/sign-in/everywhere" : "/api/v1/sign-in")),
    onSuccess: () => {
      queries.clear();
      location.assign("/");
    },
  });
}
