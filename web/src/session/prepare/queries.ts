import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";

export type PlannedBlock = Schemas["PlannedBlock"];
export type Setting = Schemas["Setting"];
export type Preparation = Schemas["Preparation"];

export function usePreparation(
  player: string,
  purpose: string,
  club: string,
  { session, benchmark }: { session?: string; benchmark?: string } = {},
) {
  return useQuery({
    queryKey: keys.prepare.of(player, purpose, club, session ?? benchmark),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/prepare", {
          params: { path: { player }, query: { purpose, club, session, benchmark } },
        }),
      ),
    enabled: player !== "",
    placeholderData: (before) => before,
  });
}

export function useBegin() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["NewSession"]) => answered(api.POST("/api/v1/sessions", { body })),
    onSuccess: () => {
      for (const queryKey of [keys.anyPlayer, keys.players, keys.school, keys.prepare.all])
        queries.invalidateQueries({ queryKey });
    },
  });
}

/** Saves the setting and the blocks to come of a session under way. */
export function useSavePreparation(session: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (wanted: { setting: Setting; blocks: Schemas["NewPlannedBlock"][] }) => {
      const params = { path: { session } };
      await answered(api.PUT("/api/v1/sessions/{session}", { params, body: wanted.setting }));
      await answered(
        api.PUT("/api/v1/sessions/{session}/plan", { params, body: { blocks: wanted.blocks } }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.session.all(session) }),
  });
}

export function useSaveTemplate() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["NewTemplate"]) =>
      answered(api.POST("/api/v1/plan-templates", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.prepare.all }),
  });
}

export function useForgetTemplate() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (template: string) =>
      answered(api.DELETE("/api/v1/plan-templates/{template}", { params: { path: { template } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.prepare.all }),
  });
}

export function useAddToBag(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["NewBagClub"]) =>
      answered(api.POST("/api/v1/players/{player}/bag", { params: { path: { player } }, body })),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.prepare.all });
      queries.invalidateQueries({ queryKey: keys.player.bag(player) });
    },
  });
}

export function useTestPlan(player: string, body: Schemas["TestAsked"]) {
  return useQuery({
    queryKey: keys.prepare.testPlan(player, body),
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/players/{player}/test-plan", {
          params: { path: { player } },
          body,
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}
