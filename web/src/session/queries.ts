import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { useSignedOut } from "../app/asked";
import { keys } from "../app/keys";
import { onSent } from "../mat/outbox";

export type SessionView = Schemas["SessionView"];

export function useSession(session: string) {
  return useQuery({
    queryKey: keys.session.view(session),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}", { params: { path: { session } } })),
  });
}

/** The best of each value that a player reached with a club, before a session or ever. Asked
 * once: what is hit meanwhile is beaten against it. */
export function useRecordsToBeat(player: string, club: string, before?: string) {
  return useQuery({
    queryKey: keys.player.records(player, club, before),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/records", {
          params: { path: { player }, query: { club, ...(before && { before }) } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** How long a refused stream of changes waits until it is asked for again. */
const REOPEN_MS = 5000;

/** How long a change made here waits to be announced before it is read untold. */
const UNTOLD_MS = 1500;

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
        await queries.invalidateQueries({ queryKey: keys.session.all(session) });
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
    // What was sent from here is announced like any other change; it is read without
    // being told only where nobody tells.
    let told = 0;
    events.addEventListener("changed", () => {
      told = Date.now();
    });
    let untold: ReturnType<typeof setTimeout> | undefined;
    const unhear = onSent(() => {
      const sent = Date.now();
      clearTimeout(untold);
      untold = setTimeout(
        () => {
          if (told < sent - UNTOLD_MS) readAgain();
        },
        events.readyState === EventSource.OPEN ? UNTOLD_MS : 0,
      );
    });
    return () => {
      clearTimeout(again);
      clearTimeout(untold);
      events.close();
      unhear();
    };
  }, [session, queries, out, opened]);
  return state;
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
      queries.invalidateQueries({ queryKey: keys.session.all(session) });
      queries.invalidateQueries({ queryKey: keys.school });
      queries.invalidateQueries({ queryKey: keys.anyPlayer });
    },
  });
}
