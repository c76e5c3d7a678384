import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";

/** What a page is about: a session, or the days of a period. */
export interface About {
  player: string;
  session?: string;
  from?: string;
  to?: string;
}

export type Reader = Schemas["Reader"];

export function usePageDraft(about: About | undefined, reader: Reader | undefined, units: string) {
  const { player = "", ...of } = about ?? {};
  return useQuery({
    queryKey: keys.page.draft(player, of, reader, units),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/page-draft", {
          params: {
            path: { player },
            query: { ...of, units: units as Schemas["Units"], ...(reader && { reader }) },
          },
        }),
      ),
    enabled: about !== undefined,
    // What is ticked is not to move under a hand because a shot came in meanwhile.
    staleTime: 60_000,
    placeholderData: (before) => before,
  });
}

export function usePages(player: string) {
  return useQuery({
    queryKey: keys.page.list(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/pages", { params: { path: { player } } })),
  });
}

export function usePage(page: string | undefined) {
  return useQuery({
    queryKey: keys.page.one(page ?? ""),
    queryFn: () =>
      answered(api.GET("/api/v1/pages/{page}", { params: { path: { page: page ?? "" } } })),
    enabled: page !== undefined,
  });
}
