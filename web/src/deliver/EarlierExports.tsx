import { Download } from "lucide-react";
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";

const MIB = 1 << 20;

interface Props {
  landscape: string;
  /** Changes when there is another one. */
  newest: string | null;
}

/** What was exported of this landscape before, and the way to it. */
export function EarlierExports({ landscape, newest }: Props) {
  const { data } = useQuery({
    queryKey: ["exports", landscape, newest],
    queryFn: () =>
      answered(api.GET("/api/landscapes/{id}/exports", { params: { path: { id: landscape } } })),
  });
  const done = data?.filter(({ state }) => state === "done") ?? [];
  if (done.length === 0) return null;
  return (
    <section aria-label="Earlier exports" data-testid="earlier-exports">
      <h3 className="mb-1 text-sm font-medium">Earlier exports</h3>
      <ul className="grid gap-1">
        {done.map(({ id, revision, wish, bytes, created_at }) => (
          <li key={id} className="flex items-center gap-3 text-sm tabular-nums">
            <a className="btn btn-xs" href={`/api/exports/${id}/file`} download>
              <Download size={13} /> {((bytes ?? 0) / MIB).toFixed(1)} MiB
            </a>
            <span>
              revision {revision}, {wish.cells} cells, {wish.layers.length + wish.packed.length}{" "}
              {wish.layers.length + wish.packed.length === 1 ? "file or set" : "files and sets"}
            </span>
            <time className="text-base-content/80" dateTime={created_at}>
              {new Date(created_at).toLocaleString()}
            </time>
          </li>
        ))}
      </ul>
    </section>
  );
}
