import type { ComponentProps } from "react";
import { CommittedNumber } from "./CommittedNumber";
import { Select } from "./Select";
import type { Deliverable } from "./useLayers";
import type { Bound, Format, MeshChoice } from "./meshChoice";

const FORMATS: [Format, string][] = [
  ["glb", "glTF, one file (.glb)"],
  ["obj", "OBJ with its material (.obj)"],
  ["ply", "PLY, binary (.ply)"],
  ["stl", "STL, for printers (.stl)"],
];
const BOUNDS: [Bound, string][] = [
  ["triangles", "at most this many triangles"],
  ["ratio", "a share of all triangles"],
  ["within_m", "within a maximum distance"],
];
/** What a number of each bound may be, and what stands behind it. */
const NUMBERS: Record<Bound, { min: number; max: number; step: number; unit: string }> = {
  triangles: { min: 14, max: 100_000_000, step: 1000, unit: "" },
  ratio: { min: 0.0001, max: 1, step: 0.05, unit: "" },
  within_m: { min: 0.01, max: 1000, step: 0.5, unit: "m" },
};
const TEXTURES = [256, 512, 1024, 2048, 4096];
const LEVELS = [1, 2, 3, 4, 5];
const PRINT_MM = 180;
const STEEPER = [30, 40, 50, 60];

interface Props {
  wish: MeshChoice;
  /** What this land has; fields and masks may be cliffs. */
  known: Deliverable[];
  onChange: (wish: MeshChoice) => void;
}

/** How the land is put into triangles. */
export function MeshFields({ wish, known, onChange }: Props) {
  const set = (part: Partial<MeshChoice>) => onChange({ ...wish, ...part });
  const { min, max, step, unit } = NUMBERS[wish.bound];
  return (
    <fieldset className="border-base-300 grid gap-2 rounded border p-3" aria-label="Mesh">
      <Select
        label="Format"
        test="mesh-format"
        value={wish.format}
        options={FORMATS}
        onChange={(format) => set({ format })}
      />
      <div className="flex flex-wrap items-center gap-3">
        <Select
          label="Triangle limit"
          test="mesh-bound"
          value={wish.bound}
          options={BOUNDS}
          onChange={(bound) => set({ bound })}
        />
        <label className="flex items-center gap-1 text-sm">
          <input
            type="number"
            className="input input-sm w-32"
            aria-label="Bound"
            data-testid="mesh-amount"
            {...{ min, max, step }}
            value={wish[wish.bound]}
            onChange={({ target }) => {
              if (target.validity.valid || target.validity.stepMismatch)
                set({ [wish.bound]: target.valueAsNumber });
            }}
          />
          {unit}
        </label>
      </div>
      <Select
        label="Levels of detail"
        test="mesh-levels"
        value={wish.levels}
        options={LEVELS.map((count) => [count, String(count)])}
        onChange={(levels) => set({ levels })}
      />
      {wish.format === "glb" && (
        <Select
          label="Textures of the ground"
          test="mesh-textures"
          value={wish.textures}
          options={[
            [null, "none"],
            ...TEXTURES.map((cells): [number, string] => [cells, `${cells} cells along`]),
          ]}
          onChange={(textures) => set({ textures })}
        />
      )}
      {!wish.solid && (
        <div className="flex flex-wrap items-center gap-3">
          <Select
            label="Cliffs"
            test="mesh-cliffs"
            value={wish.cliffs}
            options={[
              [null, "are part of the land"],
              ...STEEPER.map((degrees): [string, string] => [
                `steeper:${degrees}`,
                `apart, where steeper than ${degrees}°`,
              ]),
              ...known
                .filter(({ ofLand }) => ofLand)
                .map(({ name, title }): [string, string] => [name, `apart, by ${title}`]),
            ]}
            onChange={(cliffs) => set({ cliffs })}
          />
          {wish.cliffs !== null && (
            <Metres
              label="in quads of"
              test="mesh-cliffs-edge"
              empty="2 cells"
              value={wish.cliffs_edge_m}
              min={0.01}
              max={1e4}
              onChange={(cliffs_edge_m) => set({ cliffs_edge_m })}
            />
          )}
        </div>
      )}
      <Tick
        label="Each triangle shaded for itself"
        test="mesh-faceted"
        on={wish.faceted}
        onChange={(faceted) => set({ faceted })}
      />
      <Tick
        label="Closed, with sides and a floor"
        test="mesh-solid"
        on={wish.solid}
        onChange={(solid) => set({ solid })}
      />
      {!(wish.format === "glb" && wish.textures !== null) && (
        <Metres
          label="One texture reaches over"
          test="mesh-repeat"
          empty="all of it"
          value={wish.repeat_m}
          min={0.01}
          max={1e6}
          onChange={(repeat_m) => set({ repeat_m })}
        />
      )}
      {wish.solid && (
        <Metres
          label="Floor below the lowest place"
          test="mesh-thickness"
          empty="a 20th"
          value={wish.thickness_m}
          min={0.001}
          max={1e5}
          onChange={(thickness_m) => set({ thickness_m })}
        />
      )}
      {wish.solid && (
        <Tick
          label={`In millimetres, ${wish.print_mm ?? PRINT_MM} along the longer side`}
          test="mesh-print"
          on={wish.print_mm !== null}
          onChange={(print) => set({ print_mm: print ? PRINT_MM : null })}
        />
      )}
    </fieldset>
  );
}

type MetresProps = Omit<ComponentProps<typeof CommittedNumber>, "any" | "unit">;

/** A length, of which a part may be wished. */
function Metres(props: MetresProps) {
  return <CommittedNumber any unit="m" {...props} />;
}

interface TickProps {
  label: string;
  test: string;
  on: boolean;
  onChange: (on: boolean) => void;
}

function Tick({ label, test, on, onChange }: TickProps) {
  return (
    <label className="flex min-h-6 items-center gap-2 text-sm">
      <input
        type="checkbox"
        className="checkbox checkbox-sm checkbox-primary"
        data-testid={test}
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}
