import { useKinds } from "../api/useKinds";
import { landSteps, useRecipe } from "../live/recipe";
import { tracesOf } from "../live/traces";
import { changeView, useView } from "../studio/view";

const EXAGGERATIONS = [1, 1.5, 2, 3, 5];
/** Cells along the longer side, at rest. */
const DETAILS = [512, 1024, 2048];

/** What is drawn of the land, how high and how fine. */
export function LookTools() {
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
      <DetailChoice />
    </>
  );
}

/** How fine the land becomes once nothing changes. */
function DetailChoice() {
  const cellsAtRest = useView((view) => view.cellsAtRest);
  return (
    <label
      className="bg-base-100 flex items-center gap-1 rounded px-2 text-xs"
      title="Cells along the longer side once nothing changes. While you work there are 512"
    >
      Detail
      <select
        className="select select-xs select-ghost h-5 w-18"
        data-testid="detail"
        value={cellsAtRest}
        onChange={(event) => changeView({ cellsAtRest: Number(event.target.value) })}
      >
        {DETAILS.map((cells) => (
          <option key={cells} value={cells}>
            {cells}
          </option>
        ))}
      </select>
    </label>
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
