import { useState } from "react";
import { ParameterField } from "./ParameterField";
import { resolved, type KindSchema, type ParameterSchema } from "./schema";
import { counted } from "./units";

export type Changes = Record<string, unknown>;

interface Props {
  schema: KindSchema;
  defaults: Record<string, unknown>;
  values: Record<string, unknown>;
  testId: string;
  /** What steps below have left, for masks to read. */
  products: string[];
  onPreview: (changes: Changes) => void;
  onCommit: (changes: Changes) => void;
}

/** The controls of a kind of step, drawn from its schema alone. */
export function Parameters(props: Props) {
  const { schema, defaults, values, testId, products, onPreview, onCommit } = props;
  const [more, setMore] = useState(false);
  const valueOf = (name: string) => values[name] ?? defaults[name];
  const applies = ({ "x-when": when }: ParameterSchema) =>
    !when || when.slice(1).includes(String(valueOf(when[0] ?? "")));
  const all = Object.entries(schema.properties ?? {}).filter(([, entry]) => applies(entry));
  const folded = all.filter(([, entry]) => entry["x-more"]);
  // What was changed is never hidden.
  const changed = folded.some(([name]) => valueOf(name) !== defaults[name]);
  const shown = more || changed ? all : all.filter(([, entry]) => !entry["x-more"]);
  return (
    <div className="space-y-1.5">
      {shown.map(([name, entry]) => (
        <ParameterField
          key={name}
          {...{ name, products, onPreview, onCommit, valueOf }}
          testId={`${testId}.${name}`}
          parameter={resolved(schema, entry)}
          hint={entry.description ?? resolved(schema, entry).description}
          standard={defaults[name]}
        />
      ))}
      {folded.length > 0 && !changed && (
        <button
          type="button"
          className="link link-hover text-base-content/80 text-xs"
          aria-expanded={more}
          onClick={() => setMore(!more)}
        >
          {more ? "Fewer settings" : counted(folded.length, "more setting")}
        </button>
      )}
    </div>
  );
}
