import { CircleHelp, NotebookText, Redo2, Undo2 } from "lucide-react";
import { Link } from "react-router";
import { redo, undo } from "../live/edit";
import { called, useMyName } from "../live/people";
import { useSession } from "../live/session";
import { People } from "./People";
import { STAGES } from "./stages";
import { changeView, useView } from "./view";

/** Where one is, and the way back. */
export function TopBar() {
  const stage = useView((view) => view.stage);
  const bench = useView((view) => view.bench);
  const head = useSession((state) => state.head);
  const findings = useSession((state) => state.findings.length);
  const mine = useMyName(({ name }) => name);
  // Somebody else's edit is said to be theirs before it is taken back.
  const whose = head?.author && head.author !== mine ? `${called(head.author)}’s ` : "";
  return (
    <header className="border-base-300 bg-base-200 flex flex-wrap items-center gap-x-3 gap-y-1 border-b px-3 py-1">
      <Link to="/" className="link link-hover text-sm" title="All landscapes">
        Shelf
      </Link>
      <span aria-hidden className="text-base-content/40">
        /
      </span>
      <h1
        className="max-w-64 min-w-0 shrink truncate text-sm font-semibold"
        title={head?.recipe.name}
      >
        {head?.recipe.name ?? "…"}
      </h1>
      <nav className="tabs tabs-box tabs-xs mx-auto" aria-label="Stages">
        {STAGES.map((entry) => (
          <button
            key={entry.stage}
            type="button"
            className={`tab ${stage === entry.stage ? "tab-active" : ""}`}
            aria-current={stage === entry.stage ? "page" : undefined}
            data-testid={`stage-${entry.stage}`}
            onClick={() => changeView({ stage: entry.stage })}
          >
            {entry.name}
          </button>
        ))}
      </nav>
      <People />
      <div className="flex gap-1">
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={!head?.undo}
          title={head?.undo ? `Undo ${whose}edit: ${head.undo} (Ctrl+Z)` : "Nothing to undo"}
          data-testid="undo"
          onClick={() => void undo()}
        >
          <Undo2 size={14} /> <span className="max-w-32 truncate max-sm:sr-only">Undo {whose}</span>
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={!head?.redo}
          title={head?.redo ? `Redo: ${head.redo} (Ctrl+Shift+Z)` : "Nothing to redo"}
          data-testid="redo"
          onClick={() => void redo()}
        >
          <Redo2 size={14} /> <span className="max-sm:sr-only">Redo</span>
        </button>
        <button
          type="button"
          className={`btn btn-xs ${bench ? "btn-neutral" : "btn-ghost"}`}
          aria-pressed={bench !== null}
          title="Survey, moments, core sample, figures (S, M)"
          data-testid="bench"
          onClick={() => changeView({ bench: bench ? null : "survey" })}
        >
          <NotebookText size={14} /> <span className="max-sm:sr-only">Bench</span>
          {findings > 0 && <span className="badge badge-warning badge-xs">{findings}</span>}
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Help and preferences"
          title="Help, preferences and keys (?)"
          data-testid="help"
          onClick={() => changeView({ help: true })}
        >
          <CircleHelp size={14} />
        </button>
      </div>
    </header>
  );
}
