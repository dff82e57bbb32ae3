import { useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";

/** Steps that are often used together; they do not change while the service runs. */
export function useCombinations() {
  const { data } = useQuery({
    queryKey: ["combinations"],
    staleTime: Infinity,
    queryFn: () => answered(api.GET("/api/combinations")),
  });
  return data ?? [];
}

/** Covers that are often used together. */
export function useCoverCombinations() {
  const { data } = useQuery({
    queryKey: ["cover-combinations"],
    staleTime: Infinity,
    queryFn: () => answered(api.GET("/api/cover-combinations")),
  });
  return data ?? [];
}
