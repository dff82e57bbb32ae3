import { ChoiceField } from "./ChoiceField";
import { CurveField, type CurvePoint } from "./CurveField";
import { NumberField } from "./NumberField";
import { choicesOf, labelOf, resolved, type KindSchema } from "./schema";

interface Props {
  schema: KindSchema;
  defaults: Record<string, unknown>;
  values: Record<string, unknown>;
  testId: string;
  onPreview: (name: string, value: unknown) => void;
  onCommit: (name: string, value: unknown) => void;
}

/** The controls of a kind of step, drawn from its schema alone. */
export function Parameters({ schema, defaults, values, testId, onPreview, onCommit }: Props) {
  return (
    <div className="space-y-1.5">
      {Object.entries(schema.properties ?? {}).map(([name, reference]) => {
        const parameter = resolved(schema, reference);
        const value = values[name] ?? defaults[name];
        const label = labelOf(name);
        const hint = reference.description ?? parameter.description;
        const choices = choicesOf(parameter);
        const types = [parameter.type ?? []].flat();
        if (parameter["x-editor"] === "curve") {
          return (
            <CurveField
              key={name}
              points={value as CurvePoint[]}
              onPreview={(points) => onPreview(name, points)}
              onCommit={(points) => onCommit(name, points)}
            />
          );
        }
        if (choices) {
          return (
            <ChoiceField
              key={name}
              {...{ label, hint, choices }}
              value={String(value)}
              onCommit={(choice) => onCommit(name, choice)}
            />
          );
        }
        if (types.includes("boolean")) {
          return (
            <label key={name} className="flex items-center gap-2 text-xs" title={hint}>
              <input
                type="checkbox"
                className="checkbox checkbox-xs checkbox-primary"
                checked={Boolean(value)}
                onChange={(event) => onCommit(name, event.target.checked)}
              />
              {label}
            </label>
          );
        }
        if (types.includes("number") || types.includes("integer")) {
          return (
            <NumberField
              key={name}
              {...{ label, hint }}
              testId={`${testId}.${name}`}
              unit={parameter["x-unit"]}
              min={parameter.minimum}
              max={parameter.maximum}
              slider={parameter["x-slider"]}
              log={parameter["x-scale"] === "log"}
              whole={types.includes("integer")}
              standard={Number(defaults[name])}
              value={Number(value)}
              onPreview={(number) => onPreview(name, number)}
              onCommit={(number) => onCommit(name, number)}
            />
          );
        }
        return (
          <p key={name} className="text-base-content/70 truncate text-xs" title={String(value)}>
            {label}: {String(value).slice(0, 12)}
          </p>
        );
      })}
    </div>
  );
}
