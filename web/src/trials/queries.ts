import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";

export type DecideView = Schemas["DecideView"];
export type CompareAsked = Schemas["CompareAsked"];
export type SetAsked = Schemas["SetAsked"];

export function useDecide(session: string) {
  return useQuery({
    queryKey: keys.session.decide(session),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/decide", { params: { path: { session } } })),
  });
}

export function useEffort(session: string, club: string, body: Schemas["EffortAsked"]) {
  return useQuery({
    queryKey: keys.session.effort(session, club, body),
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/sessions/{session}/effort", {
          params: { path: { session }, query: { club } },
          body,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useSpeedLadder(session: string, club: string) {
  return useQuery({
    queryKey: keys.session.speedLadder(session, club),
    queryFn: () =>
      answered(
        api.GET("/api/v1/sessions/{session}/speed-ladder", {
          params: { path: { session }, query: { club } },
        }),
      ),
  });
}

export function useWarmUpEffect(session: string, club: string) {
  return useQuery({
    queryKey: keys.session.warmUpEffect(session, club),
    queryFn: () =>
      answered(
        api.GET("/api/v1/sessions/{session}/warm-up-effect", {
          params: { path: { session }, query: { club } },
        }),
      ),
  });
}

/** `session` is the one whose changes are heard live, when there is one. */
export function useCompare(player: string, body: CompareAsked, session = "none") {
  return useQuery({
    queryKey: keys.session.compare(session, player, body),
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/players/{player}/compare", {
          params: { path: { player } },
          body,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useHole(player: string, body: Schemas["HoleQuestion"], session = "none") {
  return useQuery({
    queryKey: keys.session.hole(session, player, body),
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/players/{player}/hole", {
          params: { path: { player } },
          body,
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    enabled: body.choices.length > 0,
  });
}

export function useBallSources(player: string) {
  return useQuery({
    queryKey: keys.player.ballSources(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/ball-sources", { params: { path: { player } } })),
  });
}

export function useDecisions(player: string) {
  return useQuery({
    queryKey: keys.player.decisions(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/decisions", { params: { path: { player } } })),
  });
}

export function useKeepDecision(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["DecisionToKeep"]) =>
      answered(
        api.POST("/api/v1/players/{player}/decisions", { params: { path: { player } }, body }),
      ),
    onSuccess: () => told(queries),
  });
}

export function useDecisionDone() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, done }: { id: string; done: boolean }) =>
      answered(
        api.PUT("/api/v1/decisions/{decision}/done", {
          params: { path: { decision: id } },
          body: { done },
        }),
      ),
    onSuccess: () => told(queries),
  });
}

function told(queries: ReturnType<typeof useQueryClient>) {
  for (const queryKey of [keys.anySession, keys.anyPlayer, keys.today]) {
    queries.invalidateQueries({ queryKey });
  }
}
