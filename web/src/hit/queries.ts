import { useMutation, useQuery } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";

export type HitView = Schemas["HitView"];
export type LiveShot = Schemas["LiveShot"];
export type Played = Schemas["Played"];

export function useHit(session: string) {
  return useQuery({
    queryKey: ["session", session, "hit"],
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/hit", { params: { path: { session } } })),
  });
}

export function usePractice(session: string) {
  return useMutation({
    mutationFn: (devices: Played[]) =>
      answered(
        api.POST("/api/v1/sessions/{session}/practice", {
          params: { path: { session } },
          body: { id: uuid(), devices },
        }),
      ),
  });
}
