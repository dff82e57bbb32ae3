import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { Reading } from "../api/types";
import { useSession } from "../live/session";

/** How often values of a term's reading occur, and what the whole mask takes. */
export function useTermStudy(owner: string, index: number, reading: Reading) {
  const landscape = useSession((state) => state.landscape) ?? "";
  const revision = useSession((state) => state.head?.revision);
  return useQuery({
    queryKey: ["term", landscape, owner, index, JSON.stringify(reading), revision],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answered(
        api.GET("/api/landscapes/{id}/term", {
          params: { path: { id: landscape }, query: { owner, term: index } },
        }),
      ),
  });
}
