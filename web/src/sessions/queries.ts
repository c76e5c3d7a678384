import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../app/api";

export function useSchool() {
  return useQuery({
    queryKey: ["school"],
    queryFn: () => answered(api.GET("/api/v1/school")),
  });
}
