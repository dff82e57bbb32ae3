import { useCatalogue } from "../api/useCatalogue";
import { useKinds } from "../api/useKinds";
import { landSteps, useRecipe } from "../live/recipe";
import { productsOf } from "../live/products";
import { prefer } from "../studio/preferences";
import { changeView, useView } from "../studio/view";
import { ToolChoice, ToolToggle } from "./ToolBox";
import { ToolMenu } from "./ToolMenu";

const EXAGGERATIONS = [1, 1.5, 2, 3, 5];
/** Cells along the longer side, at rest. */
const DETAILS = [512, 1024, 2048];

/** What is drawn of the land, how high and how fine. */
export function LookMenu() {
  const greyForm = useView((view) => view.greyForm);
  const contours = useView((view) => view.contours);
  const flowLines = useView((view) => view.flowLines);
  const exaggeration = useView((view) => view.exaggeration);
  const cellsAtRest = useView((view) => view.cellsAtRest);
  const relief = useView((view) => view.projection === "relief");
  const trace = useView((view) => view.trace);
  const marked = greyForm || contours || flowLines || trace !== null || exaggeration !== 1;
  return (
    <ToolMenu
      name="Look"
      title="What is drawn of the land, how high and how fine"
      testId="look-menu"
      marked={marked}
    >
      <ToolToggle
        label="Form only"
        title="Form only, without the ground’s colours (F)"
        checked={greyForm}
        onChange={(greyForm) => changeView({ greyForm })}
      />
      <TraceChoice />
      <ToolToggle
        label="Contours"
        title="Contour lines (C)"
        testId="contours"
        checked={contours}
        onChange={(contours) => changeView({ contours })}
      />
      <ToolToggle
        label="Flow lines"
        title="Where water runs over the land that is shown (W)"
        testId="flow-lines"
        checked={flowLines}
        onChange={(flowLines) => changeView({ flowLines })}
      />
      {relief && (
        <ToolChoice
          label="Heights"
          title="Vertical exaggeration of the relief"
          name="Vertical exaggeration"
          width="w-28"
          value={exaggeration}
          options={EXAGGERATIONS.map((factor) => [factor, `× ${factor}`])}
          onChange={(factor) => changeView({ exaggeration: Number(factor) })}
        />
      )}
      <ToolChoice
        label="Detail"
        title="Cells along the longer side once nothing changes, here and in landscapes that you open for the first time. While you work there are 512"
        testId="detail"
        width="w-28"
        value={cellsAtRest}
        options={DETAILS.map((cells) => [cells, `${cells}`])}
        onChange={(cells) => {
          changeView({ cellsAtRest: Number(cells) });
          prefer({ cellsAtRest: Number(cells) });
        }}
      />
    </ToolMenu>
  );
}

/** What steps left behind, shown instead of the ground. */
function TraceChoice() {
  const trace = useView((view) => view.trace);
  const recipe = useRecipe();
  const kinds = useKinds();
  const { fields } = useCatalogue();
  const left = recipe ? productsOf(landSteps(recipe), kinds) : [];
  const shown = fields.filter(({ name }) => left.includes(name));
  if (shown.length === 0) return null;
  const both = left.includes("wear") && left.includes("deposit");
  return (
    <ToolChoice
      label="Show"
      name="What the colours show"
      testId="show-trace"
      width="w-28"
      value={trace ?? ""}
      options={[
        ["", "ground"],
        ...(both ? [["change", "wear and deposit"] as const] : []),
        ...shown.map(({ name, title }) => [name, title.toLowerCase()] as const),
      ]}
      onChange={(trace) => changeView({ trace: trace || null })}
    />
  );
}
