import { Box, Map as MapIcon, Pickaxe, Ruler, Spline } from "lucide-react";
import { useKinds } from "../api/useKinds";
import { LAND, landSteps, useRecipe } from "../live/recipe";
import { tracesOf } from "../live/traces";
import { CameraTools } from "./CameraTools";
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
const EXAGGERATIONS = [1, 1.5, 2, 3, 5];

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
      <LookToggles />
      {projection === "relief" && <CameraTools />}
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

function LookToggles() {
  const greyForm = useView((view) => view.greyForm);
  const contours = useView((view) => view.contours);
  const flowLines = useView((view) => view.flowLines);
  const exaggeration = useView((view) => view.exaggeration);
  const relief = useView((view) => view.projection === "relief");
  const label = "bg-base-100 flex items-center gap-1 rounded px-2 text-xs";
  return (
    <>
      <label className={label} title="Form only, without the ground’s colours (F)">
        <input
          type="checkbox"
          className="toggle toggle-xs"
          checked={greyForm}
          onChange={(event) => changeView({ greyForm: event.target.checked })}
        />
        Form only
      </label>
      <TraceChoice />
      <label className={label} title="Contour lines (C)">
        <input
          type="checkbox"
          className="toggle toggle-xs"
          data-testid="contours"
          checked={contours}
          onChange={(event) => changeView({ contours: event.target.checked })}
        />
        Contours
      </label>
      <label className={label} title="Where water runs over the land that is shown (W)">
        <input
          type="checkbox"
          className="toggle toggle-xs"
          data-testid="flow-lines"
          checked={flowLines}
          onChange={(event) => changeView({ flowLines: event.target.checked })}
        />
        Flow lines
      </label>
      <label
        className={`${label} ${relief ? "" : "hidden"}`}
        title="Vertical exaggeration of the relief"
      >
        Heights
        <select
          className="select select-xs select-ghost h-5 w-16"
          aria-label="Vertical exaggeration"
          value={exaggeration}
          onChange={(event) => changeView({ exaggeration: Number(event.target.value) })}
        >
          {EXAGGERATIONS.map((factor) => (
            <option key={factor} value={factor}>
              × {factor}
            </option>
          ))}
        </select>
      </label>
    </>
  );
}

/** What steps left behind, shown instead of the ground. */
function TraceChoice() {
  const trace = useView((view) => view.trace);
  const recipe = useRecipe();
  const kinds = useKinds();
  const left = recipe
    ? tracesOf(landSteps(recipe), kinds).filter((trace) => trace !== "river")
    : [];
  if (left.length === 0) return null;
  const both = left.includes("wear") && left.includes("deposit");
  return (
    <label className="bg-base-100 flex items-center gap-1 rounded px-2 text-xs">
      Show
      <select
        className="select select-xs select-ghost h-5 w-28"
        aria-label="What the colours show"
        data-testid="show-trace"
        value={trace ?? ""}
        onChange={(event) => changeView({ trace: event.target.value || null })}
      >
        <option value="">ground</option>
        {both && <option value="change">wear and deposit</option>}
        {left.map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
    </label>
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
