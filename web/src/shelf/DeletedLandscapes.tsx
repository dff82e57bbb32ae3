import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Undo2 } from "lucide-react";
import { toast } from "sonner";
import { answered, api } from "../api/client";

/** What was deleted and can be brought back. */
export function DeletedLandscapes() {
  const queries = useQueryClient();
  const { data } = useQuery({
    queryKey: ["landscapes", "deleted"],
    queryFn: () => answered(api.GET("/api/landscapes", { params: { query: { deleted: true } } })),
  });
  const bringBack = useMutation({
    mutationFn: (id: string) =>
      answered(api.POST("/api/landscapes/{id}/bring-back", { params: { path: { id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["landscapes"] }),
    onError: (failure) => toast.error(failure.message),
  });
  if (!data || data.length === 0) return null;
  return (
    <details className="text-sm">
      <summary className="cursor-pointer" data-testid="deleted">
        Deleted ({data.length})
      </summary>
      <ul className="border-base-300 divide-base-300 divide-y rounded border">
        {data.map(({ id, name, gone_at }) => (
          <li key={id} className="flex items-center gap-2 p-2">
            <span className="min-w-0 grow truncate">{name}</span>
            {gone_at && (
              <span className="text-base-content/80 text-xs">
                kept until {new Date(gone_at).toLocaleDateString()}
              </span>
            )}
            <button
              type="button"
              className="btn btn-xs"
              data-testid={`bring-back-${id}`}
              onClick={() => bringBack.mutate(id)}
            >
              <Undo2 size={13} /> Bring back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
