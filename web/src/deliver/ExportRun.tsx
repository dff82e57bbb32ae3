import { Download } from "lucide-react";
import type { Wish } from "../api/types";
import type { useExport } from "./useExport";

interface Props {
  of: ReturnType<typeof useExport>;
  wish: Wish;
  revision: number | null;
}

/** The way to the files: begun, how far it is, fetched. */
export function ExportRun({ of, wish, revision }: Props) {
  const { job, status, running, begin, stop } = of;
  const secondsLeft = running ? (status?.secondsLeft ?? null) : null;
  return (
    <div className="flex items-center gap-3">
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={running || (wish.layers.length === 0 && wish.packed.length === 0)}
        data-testid="export-begin"
        onClick={() => void begin(wish, revision)}
      >
        Export
      </button>
      {running && (
        <>
          <progress
            className="progress progress-primary w-56"
            aria-label="Progress of the export"
            value={status?.share}
            max={1}
          />
          {status?.state === "queued" && <span role="status">waits for its turn</span>}
          {secondsLeft !== null && (
            <span role="status" data-testid="export-left">
              about {secondsLeft} s left
            </span>
          )}
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => void stop()}>
            Stop
          </button>
        </>
      )}
      {status?.state === "done" && (
        <a
          className="btn btn-sm"
          href={`/api/exports/${job}/file`}
          download
          data-testid="export-download"
        >
          <Download size={15} /> Download
        </a>
      )}
      {status?.state === "stopped" && <span role="status">Stopped. Nothing was kept.</span>}
      {status?.state === "failed" && (
        <span className="text-error" role="alert">
          {status.message}
        </span>
      )}
    </div>
  );
}
