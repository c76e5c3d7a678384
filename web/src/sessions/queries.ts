import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import { useSignedOut } from "../account/queries";
import { answered, api, type Schemas } from "../app/api";
import { enqueue, onSent } from "../app/outbox";

export type Act = Schemas["Act"];
export type SessionAct = Schemas["SessionAct"];
export type SessionView = Schemas["SessionView"];

export function useSchool() {
  return useQuery({
    queryKey: ["school"],
    queryFn: () => answered(api.GET("/api/v1/school")),
  });
}

export function useSession(session: string) {
  return useQuery({
    queryKey: ["session", session, "view"],
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}", { params: { path: { session } } })),
  });
}

/** How long a refused stream of changes waits until it is asked for again. */
const REOPEN_MS = 5000;

/** Reads what is shown of a session again whenever the server says that it changed. */
export function useLive(session: string): "live" | "away" {
  const queries = useQueryClient();
  const [state, setState] = useState<"live" | "away">("live");
  const out = useSignedOut();
  const [opened, setOpened] = useState(0);
  useEffect(() => {
    // Nobody is told anything; who signs in again is.
    if (out) return;
    let reading = false;
    let missed = false;
    // One reading at a time, and one more for whatever changed meanwhile: a burst of
    // shots neither starves the screen nor floods the server.
    const readAgain = async () => {
      missed = true;
      if (reading) return;
      reading = true;
      while (missed) {
        missed = false;
        await queries.invalidateQueries({ queryKey: ["session", session] });
      }
      reading = false;
    };
    const events = new EventSource(`/api/v1/sessions/${session}/live`);
    events.addEventListener("changed", readAgain);
    events.onopen = () => {
      setState("live");
      readAgain();
    };
    let again: ReturnType<typeof setTimeout> | undefined;
    events.onerror = () => {
      setState("away");
      // A connection that broke comes back by itself; one that was refused does not.
      if (events.readyState !== EventSource.CLOSED) return;
      readAgain();
      again = setTimeout(() => setOpened((n) => n + 1), REOPEN_MS);
    };
    const unhear = onSent(readAgain);
    return () => {
      clearTimeout(again);
      events.close();
      unhear();
    };
  }, [session, queries, out, opened]);
  return state;
}

/** What can be done in a session at the mat. Each goes through the outbox, so that
 * nothing is lost when the server is away. */
export function atTheMat(session: string) {
  const base = `/api/v1/sessions/${session}`;
  return {
    mark: (shot: { id: string; number: number }, act: Act, what: string, id = uuid()) =>
      enqueue({
        id,
        method: "POST",
        path: `${base}/shots/${shot.id}/marks`,
        body: { id, act },
        what: `shot ${shot.number} ${what}`,
      }),
    act: (act: SessionAct, what: string) => {
      const id = uuid();
      enqueue({ id, method: "POST", path: `${base}/acts`, body: { id, act }, what });
    },
    enter: (
      shot: string,
      values: { quantity: Schemas["Quantity"]; given: Schemas["Given"] | null }[],
      what: string,
    ) => {
      const id = uuid();
      enqueue({
        id,
        method: "PUT",
        path: `${base}/shots/${shot}/entries`,
        body: {
          hit_at: new Date().toISOString(),
          values: values.map((value) => ({ id: uuid(), ...value })),
        },
        what,
      });
    },
    beginBlock: (block: string, label: string) =>
      enqueue({
        id: uuid(),
        method: "POST",
        path: `${base}/blocks/${block}/begin`,
        body: {},
        what: `block “${label}” begun`,
      }),
    addBlock: (label: string) => {
      const id = uuid();
      enqueue({
        id,
        method: "POST",
        path: `${base}/blocks`,
        body: { id, label },
        what: `block “${label}” begun`,
      });
    },
  };
}

export function useProgress(session: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (in_progress: boolean) =>
      answered(
        api.PUT("/api/v1/sessions/{session}/progress", {
          params: { path: { session } },
          body: { in_progress },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["session", session] });
      queries.invalidateQueries({ queryKey: ["school"] });
      queries.invalidateQueries({ queryKey: ["player"] });
    },
  });
}
