import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";

/** Revisions of a landscape that have a name, with it. */
export function useNamedMoments(landscape: string | null): [number, string][] {
  const { data } = useQuery({
    queryKey: ["moments", landscape],
    enabled: landscape !== null,
    queryFn: () => {
      const params = { path: { id: landscape ?? "" } };
      return answered(api.GET("/api/landscapes/{id}/moments", { params }));
    },
  });
  return (data ?? []).map(({ revision, name }) => [revision, `${name} (revision ${revision})`]);
}
