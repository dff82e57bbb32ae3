import { Crosshair } from "lucide-react";
import type { DrawnPoint, HandStroke, Mask } from "../api/types";
import { useSession } from "../live/session";
import { layDown, takeUp, useInHand } from "../tools/tool";
import { AssetField } from "./AssetField";
import { ChoiceField } from "./ChoiceField";
import { CoursePoints } from "./CoursePoints";
import { CourseField } from "./CourseField";
import { CurveField, type CurvePoint } from "./CurveField";
import { HandWorkFields } from "./HandWorkFields";
import { MaskEditor } from "./MaskEditor";
import { NumberField } from "./NumberField";
import type { Changes } from "./Parameters";
import { choicesOf, labelOf, type ParameterSchema } from "./schema";
import { SourceField } from "./SourceField";
import { StrandField } from "./StrandField";

interface OutlinePoint {
  x_m: number;
  y_m: number;
}

interface Props {
  name: string;
  parameter: ParameterSchema;
  hint: string | undefined;
  standard: unknown;
  testId: string;
  /** What steps below have left, for masks to read. */
  products: string[];
  valueOf: (name: string) => unknown;
  onPreview: (changes: Changes) => void;
  onCommit: (changes: Changes) => void;
}

/** One parameter, with the control that its schema asks for. */
export function ParameterField(props: Props) {
  const { name, parameter, hint, testId, products, valueOf, onPreview, onCommit } = props;
  const value = valueOf(name);
  const label = parameter.title ?? labelOf(name);
  const choices = choicesOf(parameter);
  const types = [parameter.type ?? []].flat();
  switch (parameter["x-editor"]) {
    case "curve":
      return (
        <CurveField
          points={value as CurvePoint[]}
          onPreview={(points) => onPreview({ [name]: points })}
          onCommit={(points) => onCommit({ [name]: points })}
        />
      );
    case "outline":
      return (
        <CourseField
          of={testId}
          label="Outline"
          closed
          points={(value as OutlinePoint[]).map(({ x_m, y_m }) => ({ x: x_m, y: y_m }))}
          onCommit={(points) =>
            onCommit({ [name]: points.map(({ x, y }) => ({ x_m: x, y_m: y })) })
          }
        />
      );
    case "asset":
      return (
        <AssetField
          asset={String(value)}
          scaled={valueOf("white") === undefined}
          {...{ onCommit }}
        />
      );
    case "mask":
      return (
        <MaskEditor
          owner={testId}
          title={label}
          mask={value as Mask | null | undefined}
          products={products}
          onPreview={(mask) => onPreview({ [name]: mask })}
          onCommit={(mask) => onCommit({ [name]: mask })}
        />
      );
    case "course":
      return (
        <CoursePoints
          of={testId}
          step={testId.split(".")[0] ?? ""}
          points={value as DrawnPoint[]}
          smooth={valueOf("straight") !== true}
          onPreview={(points) => onPreview({ [name]: points })}
          onCommit={(points) => onCommit({ [name]: points })}
        />
      );
    case "strokes":
      return (
        <HandWorkFields
          of={testId}
          strokes={value as HandStroke[]}
          onPreview={(strokes) => onPreview({ [name]: strokes })}
          onCommit={(strokes) => onCommit({ [name]: strokes })}
        />
      );
    case "strand":
      return (
        <StrandField
          name={String(value ?? "")}
          optional={parameter["x-optional"] ?? false}
          onCommit={(strand) => onCommit({ [name]: strand })}
        />
      );
  }
  if (choices?.some((choice) => choice.value === "image")) {
    return <SourceField {...{ name, label, hint, testId, choices, valueOf, onCommit }} />;
  }
  if (choices) {
    return (
      <ChoiceField
        {...{ label, hint, choices, testId }}
        value={String(value)}
        onCommit={(choice) => onCommit({ [name]: choice })}
      />
    );
  }
  if (types.includes("boolean")) {
    return (
      <label className="flex items-center gap-2 text-xs" title={hint}>
        <input
          type="checkbox"
          className="checkbox checkbox-xs checkbox-primary"
          checked={Boolean(value)}
          onChange={(event) => onCommit({ [name]: event.target.checked })}
        />
        {label}
      </label>
    );
  }
  return <NumberParameter {...props} whole={types.includes("integer")} />;
}

/** A number; places take their slider's range from the land. */
function NumberParameter({ whole, ...props }: Props & { whole: boolean }) {
  const { name, parameter, hint, standard, testId, valueOf, onPreview, onCommit } = props;
  const extent = useSession((state) => (state.draft ?? state.head?.recipe)?.extent);
  const place = parameter["x-place"];
  const reach = place === "x" ? extent?.width_m : extent?.depth_m;
  const slider: [number, number] | undefined = place && reach ? [0, reach] : parameter["x-slider"];
  const pointing = useInHand("place")?.of === testId;
  return (
    <div className="flex items-center gap-1">
      <div className="grow">
        <NumberField
          label={parameter.title ?? labelOf(name)}
          {...{ hint, testId, slider, whole }}
          unit={parameter["x-unit"]}
          min={parameter.minimum}
          max={parameter.maximum}
          log={parameter["x-scale"] === "log"}
          standard={Number(standard)}
          value={Number(valueOf(name))}
          onPreview={(number) => onPreview({ [name]: number })}
          onCommit={(number) => onCommit({ [name]: number })}
        />
      </div>
      {place === "x" && (
        <button
          type="button"
          className={`btn btn-xs btn-square ${pointing ? "btn-primary" : "btn-ghost"}`}
          aria-pressed={pointing}
          aria-label="Choose the place on the land with a click"
          title="Choose the place on the land with a click"
          data-testid={`${testId}.place`}
          onClick={() =>
            pointing
              ? layDown()
              : takeUp({
                  name: "place",
                  of: testId,
                  choose: ({ x, y }) => onCommit({ x_m: Math.round(x), y_m: Math.round(y) }),
                })
          }
        >
          <Crosshair size={13} />
        </button>
      )}
    </div>
  );
}
