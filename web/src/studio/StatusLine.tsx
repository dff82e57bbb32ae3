import { formatLength } from "../controls/units";
import { say, useSession } from "../live/session";
import { Fetching } from "./Fetching";
import { useView } from "./view";

const MIB = 1 << 20;

/** What is going on, and how long it took. */
export function StatusLine() {
  const session = useSession();
  const { connected, now, tookMs, progress, head, draft, against, away, unsent } = session;
  const compared = useView((view) => view.against);
  const header = now?.header;
  const busy = progress !== null && progress.share < 1;
  const cellsAtRest = useView((view) => view.cellsAtRest);
  const finer =
    header !== undefined &&
    !header.preview &&
    !busy &&
    Math.max(header.cols, header.rows) < cellsAtRest;
  return (
    <footer
      className="border-base-300 bg-base-200 flex flex-wrap items-center gap-x-4 border-t px-3 py-0.5 text-xs"
      data-testid="status"
    >
      {!connected && (
        <span className="text-error font-medium" role="alert">
          No connection; trying again. Nothing that was acknowledged is lost.
        </span>
      )}
      {away !== null && unsent > 0 && (
        <span className="text-error font-medium" role="alert" data-testid="away">
          {away} {unsent === 1 ? "Your edit is" : `Your ${unsent} edits are`} held here and sent
          again.
        </span>
      )}
      {header && (
        <span data-testid="shown">
          {header.cols} × {header.rows} cells of {formatLength(header.cell_m)}
          {finer && <span data-testid="finer"> · a finer picture of {cellsAtRest} follows</span>}
        </span>
      )}
      {tookMs !== null && <span data-testid="took">shown after {Math.round(tookMs)} ms</span>}
      {busy && (
        <span className="flex items-center gap-2" role="status">
          growing at {progress.cells} cells
          {progress.secondsLeft !== null && (
            <span data-testid="time-left">about {progress.secondsLeft} s left</span>
          )}
          <progress className="progress progress-primary w-28" value={progress.share} max={1} />
          <button
            type="button"
            className="btn btn-xs h-4"
            data-testid="stop-growing"
            title="Stop growing, and keep what is shown"
            onClick={() => say({ type: "stop" })}
          >
            Stop
          </button>
        </span>
      )}
      {header?.waits && (
        <span className="text-accent" data-testid="waits" role="status">
          “{header.waits}” follows when you let go
        </span>
      )}
      <Fetching />
      {header && (
        <span
          className="text-base-content/80 ml-auto"
          title="Memory for results that are kept, so that an edit regrows only what depends on it"
          data-testid="cache"
        >
          cache {Math.round(header.cache_bytes / MIB)} of {Math.round(header.cache_budget / MIB)}{" "}
          MiB
        </span>
      )}
      <span data-testid="kept">
        {draft
          ? unsent > 1
            ? `keeping ${unsent} edits …`
            : "keeping …"
          : head
            ? `kept as revision ${head.revision}`
            : ""}
      </span>
      <span data-testid="compared" hidden>
        {compared !== null && against?.header.complete ? `against ${against.header.revision}` : ""}
      </span>
      <span data-testid="complete" hidden>
        {header?.complete && !header.preview ? `complete ${header.revision}` : "growing"}
      </span>
    </footer>
  );
}
