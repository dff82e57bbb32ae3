import { queryOptions, useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";
import type { Kind } from "./types";

const NONE: Kind[] = [];

/** How the kinds are asked for, for those who wait for them. */
export const KINDS = queryOptions({
  queryKey: ["kinds"],
  queryFn: () => answered(api.GET("/api/kinds")),
  staleTime: Infinity,
});

/** The kinds of step that the service knows; none before they are here. */
export function useKinds(): Kind[] {
  return useQuery(KINDS).data ?? NONE;
}
