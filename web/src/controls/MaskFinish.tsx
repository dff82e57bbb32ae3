import type { Mask } from "../api/types";
import { NoiseFields } from "./NoiseFields";
import { NumberField } from "./NumberField";

interface Props {
  owner: string;
  mask: Mask;
  onPreview: (mask: Mask) => void;
  onCommit: (mask: Mask) => void;
}

type Broken = NonNullable<Mask["ragged"]>;

/** What is done to a mask as a whole, once its readings are joined. */
export function MaskFinish({ owner, mask, onPreview, onCommit }: Props) {
  const number = (
    key: "blur_m" | "grow_m" | "contrast" | "brightness",
    label: string,
    slider: [number, number],
    standard: number,
    hint: string,
  ) => (
    <NumberField
      {...{ label, hint, slider, standard }}
      {...(key.endsWith("_m") ? { unit: "m" } : {})}
      testId={`${owner}.${key}`}
      value={mask[key] ?? standard}
      onPreview={(value) => onPreview({ ...mask, [key]: value })}
      onCommit={(value) => onCommit({ ...mask, [key]: value })}
    />
  );
  return (
    <>
      {number("blur_m", "Blur", [0, 300], 0, "Over how much its edge is blurred")}
      <details>
        <summary className="cursor-pointer text-xs">More</summary>
        <div className="space-y-1 pt-1">
          {number("grow_m", "Grow", [-200, 200], 0, "Grown on all sides, or shrunk")}
          {number("contrast", "Contrast", [0, 4], 1, "Pushes values apart")}
          {number("brightness", "Brightness", [-1, 1], 0, "Raises or lowers all values")}
          <BrokenFields
            title="Ragged edge"
            value={mask.ragged}
            onPreview={(ragged) => onPreview({ ...mask, ragged })}
            onCommit={(ragged) => onCommit({ ...mask, ragged })}
          />
          <BrokenFields
            title="Break-up"
            value={mask.breakup}
            onPreview={(breakup) => onPreview({ ...mask, breakup })}
            onCommit={(breakup) => onCommit({ ...mask, breakup })}
          />
        </div>
      </details>
    </>
  );
}

interface BrokenProps {
  title: string;
  value: Broken | null | undefined;
  onPreview: (value: Broken) => void;
  onCommit: (value: Broken | null) => void;
}

const NEW: Broken = { amount: 0.5, feature_m: 120, seed: 1 };

function BrokenFields({ title, value, onPreview, onCommit }: BrokenProps) {
  return (
    <div>
      <label className="flex items-center gap-1 text-xs">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={value !== null && value !== undefined}
          onChange={(event) => onCommit(event.target.checked ? NEW : null)}
        />
        {title}
      </label>
      {value && (
        <div className="pl-5">
          <NoiseFields
            noise={value}
            onPreview={(change) => onPreview({ ...value, ...change })}
            onCommit={(change) => onCommit({ ...value, ...change })}
          />
        </div>
      )}
    </div>
  );
}
