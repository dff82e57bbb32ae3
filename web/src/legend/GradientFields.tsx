import { Plus, Trash2 } from "lucide-react";
import type { Cover, Reading } from "../api/types";
import { ColourInput } from "../controls/ColourInput";
import { NumberField } from "../controls/NumberField";
import { ReadingFields } from "../controls/ReadingFields";
import { begun, DRAWN, kindOf, useReadings, usual } from "../controls/readings";

type Gradient = NonNullable<Cover["gradient"]>;

interface Props {
  cover: Cover;
  onPreview: (change: (target: Cover) => void) => void;
  onCommit: (change: (target: Cover) => void) => void;
}

const NEW: Gradient = {
  by: "height",
  from: 0,
  to: 1000,
  stops: [
    { at: 0, colour: "#5c5a3a" },
    { at: 1, colour: "#b5ada0" },
  ],
};
const BROKEN = { amount: 0.2, feature_m: 300, seed: 1 };

/** A cover's own colour by a reading of the land. */
export function GradientFields({ cover, onPreview, onCommit }: Props) {
  const { readings, sheetOf } = useReadings();
  const gradient = cover.gradient ?? null;
  const put = (next: Gradient | null) => (target: Cover) => {
    if (next) target.gradient = next;
    else delete target.gradient;
    // A material shows a cover's own colour as far as it is tinted with it.
    if (next && !gradient && target.material && (target.texture?.tint ?? 0) === 0) {
      target.texture = { ...target.texture, tint: 0.8 } as NonNullable<Cover["texture"]>;
    }
  };
  const set = (next: Gradient | null) => onCommit(put(next));
  const toggle = (
    <label className="flex items-center gap-1 text-xs">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        data-testid={`${cover.id}.gradient`}
        checked={gradient !== null}
        onChange={(event) => set(event.target.checked ? NEW : null)}
      />
      Colours by a reading
    </label>
  );
  if (!gradient) return toggle;
  const sheet = sheetOf(kindOf(gradient.by));
  const number = (key: "from" | "to", label: string) => (
    <NumberField
      {...{ label }}
      unit={sheet.unit}
      slider={usual(sheet)}
      testId={`${cover.id}.gradient-${key}`}
      value={gradient[key]}
      onPreview={(value) => onPreview(put({ ...gradient, [key]: value }))}
      onCommit={(value) => set({ ...gradient, [key]: value })}
    />
  );
  const stop = (i: number, change: object) => ({
    ...gradient,
    stops: gradient.stops.map((entry, k) => (k === i ? { ...entry, ...change } : entry)),
  });
  return (
    <div className="space-y-1">
      {toggle}
      <div className="space-y-1 pl-5">
        <select
          className="select select-xs w-full"
          aria-label="Reading of the gradient"
          value={kindOf(gradient.by)}
          onChange={(event) => {
            const next = sheetOf(event.target.value);
            const [from, to] = usual(next);
            set({ ...gradient, by: begun(next), from, to });
          }}
        >
          {readings
            .filter(({ reading, needs }) => !needs && !DRAWN.includes(reading))
            .map(({ reading, title }) => (
              <option key={reading} value={reading}>
                {title}
              </option>
            ))}
        </select>
        <ReadingFields
          reading={gradient.by}
          testId={`${cover.id}.gradient`}
          onPreview={(by: Reading) => onPreview(put({ ...gradient, by }))}
          onCommit={(by: Reading) => set({ ...gradient, by })}
        />
        {number("from", "First at")}
        {number("to", "Last at")}
        <div
          className="h-3 rounded"
          aria-hidden
          style={{ background: `linear-gradient(to right, ${strip(gradient)})` }}
        />
        {gradient.stops.map((entry, i) => (
          <div key={i} className="flex items-center gap-1">
            <ColourInput
              label={`Colour ${i + 1} of the gradient`}
              colour={entry.colour}
              onCommit={(colour) => set(stop(i, { colour }))}
            />
            <div className="grow">
              <NumberField
                label="at"
                slider={[0, 1]}
                value={entry.at}
                onPreview={(at) => onPreview(put(stop(i, { at })))}
                onCommit={(at) => set(stop(i, { at }))}
              />
            </div>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label="Remove this colour"
              disabled={gradient.stops.length === 1}
              onClick={() => set({ ...gradient, stops: gradient.stops.filter((_, k) => k !== i) })}
            >
              <Trash2 size={13} />
            </button>
          </div>
        ))}
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() =>
            set({ ...gradient, stops: [...gradient.stops, { at: 0.5, colour: "#8a837a" }] })
          }
        >
          <Plus size={13} /> Colour
        </button>
        <NumberField
          label="Broken by noise"
          hint="Shifts the colours, so that they do not follow the reading like lines on a map"
          slider={[0, 1]}
          value={gradient.broken?.amount ?? 0}
          onCommit={(amount) =>
            set({
              ...gradient,
              broken: amount > 0 ? { ...BROKEN, ...gradient.broken, amount } : null,
            })
          }
        />
      </div>
    </div>
  );
}

function strip({ stops }: Gradient): string {
  const sorted = [...stops].sort((a, b) => a.at - b.at);
  const parts = sorted.map(({ at, colour }) => `${colour} ${100 * at}%`);
  return parts.length > 1 ? parts.join(", ") : `${sorted[0]?.colour}, ${sorted[0]?.colour}`;
}
