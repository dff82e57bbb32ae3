import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { Target, Wish } from "../api/types";
import { useSession } from "../live/session";

/** What a target would not take of a wish, and what will come of it. */
export function useCheck(wish: Wish, target: Target | null, revision: number | null) {
  const landscape = useSession((state) => state.landscape);
  const head = useSession((state) => state.head?.revision ?? null);
  const bounds = target?.bounds;
  const body = { wish, revision, ...(bounds && { bounds }) };
  const { data } = useQuery({
    queryKey: ["check", landscape, head, body],
    enabled: landscape !== null && head !== null,
    placeholderData: keepPreviousData,
    queryFn: () =>
      answered(
        api.POST("/api/landscapes/{id}/exports/check", {
          params: { path: { id: landscape ?? "" } },
          body,
        }),
      ),
  });
  return data ?? null;
}
