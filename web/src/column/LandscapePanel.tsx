import { ChevronDown, ChevronRight, Mountain } from "lucide-react";
import { useQueryClient } from "@tanstack/react-query";
import type { Recipe } from "../api/types";
import { NumberField } from "../controls/NumberField";
import { TextField } from "../controls/TextField";
import { formatSize } from "../controls/units";
import { commitValue, preview } from "../live/edit";
import { changeView, useView } from "../studio/view";
import { SunFields } from "./SunFields";

/** By this name the panel is open in the view. */
const OWNER = "the landscape";

/** The landscape itself, at the foot of its column: what it is called, how large it is, where
 * the sea and the sun stand. */
export function LandscapePanel({ recipe }: { recipe: Recipe }) {
  const open = useView((view) => view.openBand === OWNER);
  const { width_m, depth_m } = recipe.extent;
  return (
    <section className="border-base-300 border-t" aria-label="Landscape">
      <button
        type="button"
        className="hover:bg-base-200 flex w-full items-center gap-2 px-2 py-1.5 text-left text-sm"
        aria-expanded={open}
        data-testid="open-landscape"
        onClick={() => changeView({ openBand: open ? null : OWNER })}
      >
        <Mountain size={14} className="shrink-0" />
        <span className="min-w-0 grow truncate" title={recipe.name}>
          {recipe.name}
        </span>
        <span className="text-base-content/80 shrink-0 text-xs">
          {formatSize(width_m, depth_m)}
        </span>
        {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
      </button>
      {open && <Fields recipe={recipe} />}
    </section>
  );
}

function Fields({ recipe }: { recipe: Recipe }) {
  const queries = useQueryClient();
  const { width_m, depth_m } = recipe.extent;
  const side = (key: "width_m" | "depth_m", label: string) => {
    const set = (value: number) => (draft: Recipe) => {
      draft.extent[key] = value;
      // It lay on earth as large as it was.
      delete draft.georeference;
    };
    return (
      <NumberField
        label={label}
        hint="The steps stay where they are, in metres from the south-west corner"
        unit="m"
        min={1}
        max={1_000_000}
        slider={[500, 40_000]}
        log
        testId={`landscape.${key}`}
        value={recipe.extent[key]}
        onPreview={(value) => preview(set(value))}
        onCommit={(value) => void commitValue(set(value))}
      />
    );
  };
  const text = (key: "name" | "datum" | "note", value: string) =>
    void commitValue((draft) => {
      if (value) draft[key] = value;
      else if (key === "datum") delete draft.datum;
      else if (key === "note") delete draft.note;
    }).then(() => queries.invalidateQueries({ queryKey: ["landscapes"] }));
  return (
    <div className="bg-base-200 space-y-1.5 px-2.5 py-2">
      <TextField
        label="Name"
        value={recipe.name}
        testId="landscape.name"
        onCommit={(name) => name && text("name", name)}
      />
      {side("width_m", "West to east")}
      {side("depth_m", "South to north")}
      <p className="text-base-content/80 text-xs" data-testid="landscape.proportion">
        {proportion(width_m, depth_m)}
      </p>
      <NumberField
        label="Sea level"
        hint="Water stands up to here"
        unit="m"
        min={-12_000}
        max={12_000}
        slider={[-200, 500]}
        testId="landscape.sea_level_m"
        value={recipe.sea_level_m}
        standard={0}
        onPreview={(value) => preview((draft) => void (draft.sea_level_m = value))}
        onCommit={(value) => void commitValue((draft) => void (draft.sea_level_m = value))}
      />
      <TextField
        label="Heights from"
        hint="The datum: what heights are counted from, such as the mean level of the sea"
        value={recipe.datum ?? ""}
        testId="landscape.datum"
        onCommit={(datum) => text("datum", datum)}
      />
      <SunFields />
      {recipe.georeference && (
        <p className="text-xs" data-testid="landscape.place">
          Lies on earth from {recipe.georeference.west} to {recipe.georeference.east} east and{" "}
          {recipe.georeference.south} to {recipe.georeference.north} north,{" "}
          {recipe.georeference.ascii?.split("|")[0] || "in the coordinates of its file"}. GeoTIFF
          files are written there. Another size takes this away.
        </p>
      )}
      <TextField
        label="Note"
        long
        value={recipe.note ?? ""}
        testId="landscape.note"
        onCommit={(note) => text("note", note)}
      />
    </div>
  );
}

/** “2 : 1”, as nearly as it can be said with small numbers. */
function proportion(width: number, depth: number): string {
  const ratio = width / depth;
  let [best, off] = ["", Infinity];
  for (let down = 1; down <= 9; down++) {
    const across = Math.max(1, Math.round(ratio * down));
    const wrong = Math.abs(across / down / ratio - 1);
    if (wrong < off - 1e-9) [best, off] = [`${across} : ${down}`, wrong];
  }
  const area = (width * depth) / 1e6;
  return `${off < 0.002 ? "" : "about "}${best}, ${Number(area.toPrecision(3))} km²`;
}
