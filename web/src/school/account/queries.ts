import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../app/api";
import { forgetAnswers } from "../../app/kept-answers";
import { keys } from "../../app/keys";
import { signedOut } from "../../app/signed-out";

export type Role = Schemas["Role"];

export const ROLES: Record<Role, string> = {
  owner: "Owner",
  coach: "Coach",
  assistant: "Assistant",
};

/** Comes in, by whatever was asked: everything is read again as the one who came. What is
 * on the page stays there meanwhile. */
export function useComingIn<T>(ask: (given: T) => Promise<unknown>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ask,
    onSuccess: async () => {
      queries.removeQueries({ type: "inactive" });
      if (queries.getQueryData(keys.me) === undefined) {
        await queries.resetQueries({ queryKey: keys.me });
      }
      signedOut.setState({ out: false });
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
    onSuccess: async () => {
      queries.clear();
      await forgetAnswers();
      location.assign("/");
    },
  });
}
