import { useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";
import type { Kind } from "./types";

const NONE: Kind[] = [];

/** The kinds of step that the service knows. */
export function useKinds(): Kind[] {
  const { data } = useQuery({
    queryKey: ["kinds"],
    queryFn: () => answered(api.GET("/api/kinds")),
    staleTime: Infinity,
  });
  return data ?? NONE;
}
