import type { Reading } from "../api/types";
import { useRecipe } from "../live/recipe";
import { BrushFields } from "./BrushFields";
import { ImageReading } from "./ImageReading";
import { CourseField } from "./CourseField";
import { Parameters } from "./Parameters";
import {
  DRAWN,
  kindOf,
  parametersOf,
  useReadings,
  withParameter,
  withParameters,
} from "./readings";
import type { KindSchema } from "./schema";

interface Props {
  reading: Reading;
  testId: string;
  onPreview: (reading: Reading) => void;
  onCommit: (reading: Reading) => void;
}

/** What a reading asks for besides its range: what its schema says, and for what is
 * drawn or chosen a control of its own. */
export function ReadingFields({ reading, testId, onPreview, onCommit }: Props) {
  const kind = kindOf(reading);
  const values = parametersOf(reading);
  const named = useRecipe()?.masks ?? [];
  const { sheetOf } = useReadings();
  const { schema, begins } = sheetOf(kind);
  return (
    <>
      {schema && !DRAWN.includes(kind) && (
        <Parameters
          schema={schema as unknown as KindSchema}
          defaults={(Object.values(begins)[0] ?? {}) as Record<string, unknown>}
          {...{ values, testId }}
          products={[]}
          onPreview={(changes) => onPreview(withParameters(reading, changes))}
          onCommit={(changes) => onCommit(withParameters(reading, changes))}
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
      {typeof reading === "object" && "line" in reading && (
        <CourseField
          of={testId}
          label="Line"
          closed={false}
          points={reading.line.points.map(([x = 0, y = 0]) => ({ x, y }))}
          onCommit={(points) =>
            onCommit({ line: { points: points.map(({ x, y }) => [x, y] as [number, number]) } })
          }
        />
      )}
      {typeof reading === "object" && "painted" in reading && (
        <BrushFields
          of={testId}
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
