import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { KnownTarget } from "../api/types";

const KEY = ["targets"];

/** What other programs take: those that ship, and one's own. */
export function useTargets() {
  const { data, refetch } = useQuery({
    queryKey: KEY,
    queryFn: () => answered(api.GET("/api/targets")),
  });
  return { targets: data ?? ([] as KnownTarget[]), refetch };
}
