// The session as read.

import { useQuery } from "@tanstack/react-query";
import { answered, api, type Quantity, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { typed } from "../../ui/Measured";

export type SessionRead = Schemas["SessionRead"];

/** A session read: one club of it, by today's rules or by those of a moment. */
export function useRead(session: string, club: string | undefined, rulesAt: string | undefined) {
  return useQuery({
    queryKey: keys.session.read(session, club, rulesAt),
    queryFn: () =>
      answered(
        api.GET("/api/v1/sessions/{session}/read", {
          params: { path: { session }, query: { club, rules_at: rulesAt } },
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** How many kept balls of the club read were at or over a typed value. */
export function useOver(
  read: SessionRead,
  quantity: Quantity | undefined,
  value: string,
  unit: string,
) {
  const { session, club } = read;
  return useQuery({
    queryKey: keys.session.over(session.id, club, { quantity, value, unit }),
    enabled: quantity !== undefined && value.trim() !== "",
    retry: false,
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/sessions/{session}/over", {
          params: {
            path: { session: session.id },
            query: { club, quantity: quantity ?? "carry", value: typed(value) ?? undefined, unit },
          },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
}

export type Opening = Schemas["Opening"];

/** What a session says to its purpose. */
export function useOpening(session: string, club: string) {
  return useQuery({
    queryKey: keys.session.opening(session, club),
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/sessions/{session}/opening", {
          params: { path: { session }, query: { club } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
}
