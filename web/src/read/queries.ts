// The session as read, kept current by the server's live events.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";

export type SessionRead = Schemas["SessionRead"];
export type Act = Schemas["Act"];

export function useRead(session: string) {
  return useQuery({
    queryKey: ["read", session],
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/read", { params: { path: { session } } })),
  });
}

/** Reads the session again whenever the server says that it changed. */
export function useLive(session: string): "live" | "away" {
  const queries = useQueryClient();
  const [state, setState] = useState<"live" | "away">("live");
  useEffect(() => {
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
        await queries.invalidateQueries({ queryKey: ["read", session] });
      }
      reading = false;
    };
    const events = new EventSource(`/api/v1/sessions/${session}/live`);
    events.addEventListener("changed", readAgain);
    events.onopen = () => {
      setState("live");
      readAgain();
    };
    events.onerror = () => setState("away");
    return () => events.close();
  }, [session, queries]);
  return state;
}

/** Marks a shot; the identifier is made once, so that a retry is harmless. */
export function useMark(session: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (mark: { shot: string; act: Act; id?: string }) =>
      answered(
        api.POST("/api/v1/sessions/{session}/shots/{shot}/marks", {
          params: { path: { session, shot: mark.shot } },
          body: { id: mark.id ?? uuid(), act: mark.act },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["read", session] }),
  });
}

export function useBlock(session: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (block: { id: string; label: string }) =>
      answered(
        api.POST("/api/v1/sessions/{session}/blocks", {
          params: { path: { session } },
          body: block,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["read", session] }),
  });
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
      queries.invalidateQueries({ queryKey: ["read", session] });
      queries.invalidateQueries({ queryKey: ["school"] });
      queries.invalidateQueries({ queryKey: ["player"] });
    },
  });
}
