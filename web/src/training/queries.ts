import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { ZONE } from "../app/local";

export type RunView = Schemas["RunView"];
export type ProgrammeView = Schemas["ProgrammeView"];
export type ProtocolView = Schemas["ProtocolView"];
export type ImplementView = Schemas["ImplementView"];

/** The time zone that this browser is in. */
export function useRun(session: string) {
  return useQuery({
    queryKey: keys.session.run(session),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/run", { params: { path: { session } } })),
  });
}

export function useProgramme(player: string) {
  return useQuery({
    queryKey: keys.player.programme(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/programme", { params: { path: { player } } })),
  });
}

export function useProtocols() {
  return useQuery({
    queryKey: keys.protocols,
    queryFn: () => answered(api.GET("/api/v1/protocols")),
  });
}

export function useImplements(player?: string) {
  return useQuery({
    queryKey: keys.implements(player),
    queryFn: () =>
      answered(api.GET("/api/v1/implements", { params: { query: player ? { player } : {} } })),
  });
}

export function useTrainingToday() {
  return useQuery({
    queryKey: keys.trainingToday,
    queryFn: () => answered(api.GET("/api/v1/training-today")),
  });
}

/** Begins a session of a protocol, and goes to it. */
export function useBeginRun(player: string) {
  const navigate = useNavigate();
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (of: { protocol: string; place?: number; level?: number }) => {
      const id = uuid();
      await answered(
        api.POST("/api/v1/players/{player}/runs", {
          params: { path: { player } },
          body: { id, zone: ZONE, ...of },
        }),
      );
      return id;
    },
    onSuccess: (id) => {
      client.invalidateQueries({ queryKey: keys.player.all(player) });
      client.invalidateQueries({ queryKey: keys.trainingToday });
      client.invalidateQueries({ queryKey: keys.today });
      navigate(`/sessions/${id}/run`);
    },
  });
}

/** Writes down what changes a player's programme. */
export function useChangeProgramme(player: string, done: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (act: Schemas["ProgrammeAct"]) =>
      answered(
        api.POST("/api/v1/players/{player}/programme/acts", {
          params: { path: { player } },
          body: { id: uuid(), act },
        }),
      ),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: keys.player.programme(player) });
      client.invalidateQueries({ queryKey: keys.trainingToday });
      done();
    },
  });
}

/** Takes a protocol out, or the house's own again. */
export function useDropProtocol() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (protocol: string) =>
      answered(api.DELETE("/api/v1/protocols/{protocol}", { params: { path: { protocol } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.protocols }),
  });
}
