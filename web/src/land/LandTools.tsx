import { Box, Maximize2, Map as MapIcon, Pickaxe, Ruler, Spline } from "lucide-react";
import { LAND } from "../live/recipe";
import { CameraTools } from "./CameraTools";
import { LookTools } from "./LookTools";
import { changeView, useView, type CompareMode, type Tool } from "../studio/view";

const TOOLS: { tool: Tool; name: string; hint: string; Icon: typeof Ruler }[] = [
  {
    tool: "section",
    name: "Section",
    hint: "Drag on the plan: the line of the section",
    Icon: Spline,
  },
  { tool: "ruler", name: "Ruler", hint: "Drag on the plan: length, rise and slope", Icon: Ruler },
  {
    tool: "core",
    name: "Core",
    hint: "Click on the land: what each step did there",
    Icon: Pickaxe,
  },
];
const MODES: [CompareMode, string][] = [
  ["divider", "Divider"],
  ["side", "Side by side"],
  ["difference", "Difference"],
];

/** How the land is looked at, and what a click on it does. */
export function LandTools() {
  const projection = useView((view) => view.projection);
  const tool = useView((view) => view.tool);
  const solo = useView((view) => view.solo);
  const strand = useView((view) => view.strand);
  const against = useView((view) => view.against);
  return (
    <div className="pointer-events-none absolute top-2 right-2 left-2 flex flex-wrap gap-2 *:pointer-events-auto">
      <div className="join bg-base-100 rounded">
        {(["relief", "plan"] as const).map((entry) => (
          <button
            key={entry}
            type="button"
            className={`join-item btn btn-xs ${projection === entry ? "btn-neutral" : ""}`}
            aria-pressed={projection === entry}
            title={entry === "relief" ? "Relief in three dimensions (V)" : "Plan from above (V)"}
            data-testid={`show-${entry}`}
            onClick={() => changeView({ projection: entry })}
          >
            {entry === "relief" ? <Box size={13} /> : <MapIcon size={13} />}
            {entry === "relief" ? "Relief" : "Plan"}
          </button>
        ))}
      </div>
      <div className="join bg-base-100 rounded">
        {TOOLS.map(({ tool: entry, name, hint, Icon }) => (
          <button
            key={entry}
            type="button"
            className={`join-item btn btn-xs ${tool === entry ? "btn-neutral" : ""}`}
            aria-pressed={tool === entry}
            title={hint}
            data-testid={`tool-${entry}`}
            onClick={() => changeView({ tool: entry, ruler: null })}
          >
            <Icon size={13} /> {name}
          </button>
        ))}
      </div>
      <LookTools />
      {projection === "relief" && <CameraTools />}
      <button
        type="button"
        className="btn btn-xs"
        title="The land alone, over the whole window (L)"
        aria-label="The land alone"
        data-testid="alone"
        onClick={() => changeView({ alone: true })}
      >
        <Maximize2 size={13} />
      </button>
      {against !== null && <CompareTools />}
      {(solo !== null || strand !== LAND) && (
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
