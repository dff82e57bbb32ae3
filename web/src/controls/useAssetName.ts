import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";

/** What an imported file was called; the beginning of its id until that is known. */
export function useAssetName(id: string): string {
  const { data } = useQuery({
    queryKey: ["asset", id],
    enabled: id !== "",
    staleTime: Infinity,
    queryFn: () => answered(api.GET("/api/assets/{id}", { params: { path: { id } } })),
  });
  return data?.name ?? id.slice(0, 8);
}
