import { useMutation, useQuery } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";

export type HitView = Schemas["HitView"];
export type LiveShot = Schemas["LiveShot"];
export type Played = Schemas["DeviceKind"];

export function useHit(session: string) {
  return useQuery({
    queryKey: keys.session.hit(session),
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
