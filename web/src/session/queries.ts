import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { useSignedOut } from "../app/asked";
import { keys } from "../app/keys";
import { onSent } from "../mat/outbox";
import { oneByOne } from "../ui/stream";
import { hearOf } from "./live";

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

/** How long a change made here waits to be announced before it is read untold. */
const UNTOLD_MS = 1500;

/** Reads what is shown of a session again whenever the server says that it changed. One that
 * is over is not listened to: nothing is hit in it. */
export function useLive(session: string, over = false): "live" | "away" {
  const queries = useQueryClient();
  const [state, setState] = useState<"live" | "away">("live");
  const out = useSignedOut();
  // Nobody who is signed out is told anything; who signs in again is.
  const deaf = out || over;
  useEffect(() => {
    const readAgain = oneByOne(() =>
      queries.invalidateQueries({ queryKey: keys.session.all(session) }),
    );
    let told = 0;
    let open = false;
    const stop = deaf
      ? undefined
      : hearOf(session, {
          changed: () => {
            told = Date.now();
            readAgain();
          },
          open: () => {
            open = true;
            setState("live");
            readAgain();
          },
          away: (refused) => {
            open = false;
            setState("away");
            if (refused) readAgain();
          },
        });
    // What was sent from here is announced like any other change; it is read without
    // being told only where nobody tells.
    let untold: ReturnType<typeof setTimeout> | undefined;
    const unhear = onSent(() => {
      const sent = Date.now();
      clearTimeout(untold);
      untold = setTimeout(
        () => {
          if (told < sent - UNTOLD_MS) readAgain();
        },
        open ? UNTOLD_MS : 0,
      );
    });
    return () => {
      clearTimeout(untold);
      stop?.();
      unhear();
    };
  }, [session, queries, deaf]);
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
