import { useCatalogue } from "../api/useCatalogue";
import type { Wish } from "../api/types";
import { CommittedNumber } from "./CommittedNumber";
import type { Choice } from "./choice";
import { Select } from "./Select";

type RangeKind = "fit" | "whole" | "given";

const RANGES: [RangeKind, string][] = [
  ["fit", "from the lowest to the highest"],
  ["whole", "one unit a step"],
  ["given", "between given heights"],
];
const SIXTEEN_BITS = ["png16", "raw16"];
const GIVEN = { black: 0, white: 3000 };

interface Props {
  choice: Choice;
  layers: string[];
  onChange: (part: Partial<Choice>) => void;
}

/** In which formats maps are written, and what steps of 16 bits mean. */
export function MapFields({ choice, layers, onChange }: Props) {
  const { field_formats, colour_formats } = useCatalogue();
  const { fields, colour, range } = choice;
  const inSteps = SIXTEEN_BITS.includes(fields) || layers.includes("height16");
  const kind: RangeKind = typeof range === "string" ? range : "given";
  const given = typeof range === "string" ? GIVEN : range.given;
  return (
    <div className="flex flex-wrap gap-x-6 gap-y-2">
      <Select
        label="Heights, fields and masks as"
        test="export-fields"
        value={fields}
        options={field_formats.map(({ name, title }) => [name as Wish["fields"], title])}
        onChange={(fields) => onChange({ fields })}
      />
      <Select
        label="Colour as"
        test="export-colour"
        value={colour}
        options={colour_formats.map(({ name, title }) => [name as Wish["colour"], title])}
        onChange={(colour) => onChange({ colour })}
      />
      {inSteps && (
        <Select
          label="16-bit range"
          test="export-range"
          value={kind}
          options={RANGES}
          onChange={(kind) => onChange({ range: kind === "given" ? { given } : kind })}
        />
      )}
      {inSteps && kind === "given" && (
        <>
          <CommittedNumber
            any
            label="from"
            test="export-black"
            unit="m"
            value={given.black}
            min={-20_000}
            max={given.white - 1}
            onChange={(black) => onChange({ range: { given: { ...given, black: black ?? 0 } } })}
          />
          <CommittedNumber
            any
            label="to"
            test="export-white"
            unit="m"
            value={given.white}
            min={given.black + 1}
            max={20_000}
            onChange={(white) =>
              onChange({ range: { given: { ...given, white: white ?? GIVEN.white } } })
            }
          />
        </>
      )}
    </div>
  );
}
