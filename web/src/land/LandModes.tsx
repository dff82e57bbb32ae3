import { LAND } from "../live/recipe";
import { changeView, useView, type CompareMode } from "../studio/view";

const MODES: [CompareMode, string][] = [
  ["divider", "Divider"],
  ["side", "Side by side"],
  ["difference", "Difference"],
];

/** What is shown instead of the land as it is, and the way back: at the foot of it. */
export function LandModes() {
  const solo = useView((view) => view.solo);
  const strand = useView((view) => view.strand);
  const comparing = useView((view) => view.against !== null);
  const at = useView((view) => view.at);
  const part = solo !== null || strand !== LAND;
  if (!comparing && !part && at === null) return null;
  return (
    <div className="absolute bottom-10 left-1/2 flex -translate-x-1/2 gap-2">
      {comparing && <CompareTools />}
      {at !== null && (
        <button
          type="button"
          className="btn btn-primary btn-xs"
          data-testid="newest"
          onClick={() => changeView({ at: null })}
        >
          Revision {at} — back to the newest
        </button>
      )}
      {part && (
        <button
          type="button"
          className="btn btn-primary btn-xs"
          data-testid="whole-land"
          onClick={() => changeView({ solo: null, strand: LAND })}
        >
          {solo !== null ? "One part alone" : `Strand ${strand}`} — back to the land
        </button>
      )}
    </div>
  );
}

function CompareTools() {
  const mode = useView((view) => view.compare);
  return (
    <div className="join bg-base-100 rounded" data-testid="compare-tools">
      {MODES.map(([entry, name]) => (
        <button
          key={entry}
          type="button"
          className={`join-item btn btn-xs ${mode === entry ? "btn-neutral" : ""}`}
          aria-pressed={mode === entry}
          data-testid={`compare-${entry}`}
          onClick={() => changeView({ compare: entry })}
        >
          {name}
        </button>
      ))}
      <button
        type="button"
        className="join-item btn btn-xs"
        data-testid="compare-end"
        onClick={() => changeView({ against: null })}
      >
        End
      </button>
    </div>
  );
}
