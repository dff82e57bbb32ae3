import { useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";

/** By what the named moments of a landscape are known, for those who change them. */
export const momentsKey = (landscape: string | null) => ["moments", landscape];

/** The revisions of a landscape that have a name; nothing before they are here. */
export function useMoments(landscape: string | null) {
  const { data } = useQuery({
    queryKey: momentsKey(landscape),
    enabled: landscape !== null,
    queryFn: () => {
      const params = { path: { id: landscape ?? "" } };
      return answered(api.GET("/api/landscapes/{id}/moments", { params }));
    },
  });
  return data;
}
