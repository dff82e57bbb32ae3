import type { Reading } from "../api/types";
import { useRecipe } from "../live/recipe";
import { BrushFields } from "./BrushFields";
import { ImageReading } from "./ImageReading";
import { NumberField } from "./NumberField";
import { kindOf, parametersOf, sheetOf, withParameter } from "./readings";

interface Props {
  reading: Reading;
  testId: string;
  onPreview: (reading: Reading) => void;
  onCommit: (reading: Reading) => void;
}

const BENDS = ["mean", "profile", "plan"];

/** What a reading asks for besides its range. */
export function ReadingFields({ reading, testId, onPreview, onCommit }: Props) {
  const kind = kindOf(reading);
  const values = parametersOf(reading);
  const named = useRecipe()?.masks ?? [];
  return (
    <>
      {(sheetOf(kind).numbers ?? []).map(({ key, ...field }) => (
        <NumberField
          key={key}
          {...field}
          testId={`${testId}.${key}`}
          value={Number(values[key] ?? 0)}
          onPreview={(value) => onPreview(withParameter(reading, key, value))}
          onCommit={(value) => onCommit(withParameter(reading, key, value))}
        />
      ))}
      {kind === "curvature" && (
        <Choice
          label="Measured"
          value={String(values.bend)}
          options={BENDS}
          onChoose={(bend) => onCommit(withParameter(reading, "bend", bend))}
        />
      )}
      {(kind === "named" || kind === "near") && (
        <Choice
          label="Mask"
          value={String(values.mask)}
          options={named.map((entry) => entry.name)}
          onChoose={(mask) => onCommit(withParameter(reading, "mask", mask))}
        />
      )}
      {kind === "image" && <ImageReading values={values} {...{ testId, onCommit }} />}
      {typeof reading === "object" && "painted" in reading && (
        <BrushFields
          strokes={reading.painted.strokes}
          onPreview={(strokes) => onPreview({ painted: { strokes } })}
          onCommit={(strokes) => onCommit({ painted: { strokes } })}
        />
      )}
    </>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  options: string[];
  onChoose: (value: string) => void;
}

function Choice({ label, value, options, onChoose }: ChoiceProps) {
  return (
    <label className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
      <span>{label}</span>
      <select
        className="select select-xs"
        aria-label={label}
        value={value}
        onChange={(event) => onChoose(event.target.value)}
      >
        {!options.includes(value) && <option value={value}>—</option>}
        {options.map((option) => (
          <option key={option} value={option}>
            {option}
          </option>
        ))}
      </select>
    </label>
  );
}
