import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../app/api";
import { keys } from "../app/keys";

/** The people of the school, for those who may see them. */
export function usePeople(enabled: boolean) {
  return useQuery({
    queryKey: keys.people,
    queryFn: () => answered(api.GET("/api/v1/people")),
    enabled,
  });
}
