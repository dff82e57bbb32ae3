import { Eye, EyeOff, Trash2 } from "lucide-react";
import type { ReadingKind, Term } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { useRecipe } from "../live/recipe";
import { changeView, useView } from "../studio/view";
import { MaskThumb } from "./MaskThumb";
import { NumberField } from "./NumberField";
import { ReadingFields } from "./ReadingFields";
import { begun, kindOf, useReadings, usual, withParameter } from "./readings";
import { ShareCurve } from "./ShareCurve";
import { TermHistogram } from "./TermHistogram";

interface Props {
  owner: string;
  index: number;
  term: Term;
  /** Whether its mask can be looked at on the land. */
  watchable: boolean;
  products: string[];
  onPreview: (term: Term) => void;
  onCommit: (term: Term) => void;
  onRemove: () => void;
}

/** Readings that refer to a mask by name. */
const OF_MASKS = ["named", "near"];

/** One reading of a mask and the range of it that counts. */
export function TermEditor(props: Props) {
  const { owner, index, term, watchable, products, onPreview, onCommit, onRemove } = props;
  const kind = kindOf(term.of);
  const { readings, sheetOf } = useReadings();
  const { joins } = useCatalogue();
  const sheet = sheetOf(kind);
  const { unit } = sheet;
  const range = usual(sheet);
  const span = range[1] - range[0];
  const testId = `${owner}.${index}`;
  const end = (side: "from" | "to") => {
    const value = term[side];
    const open = value === null || value === undefined;
    const soft = side === "from" ? "soft_from" : "soft_to";
    return (
      <>
        <div className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            aria-label={side === "from" ? "Has a lower end" : "Has an upper end"}
            checked={!open}
            onChange={() =>
              onCommit({ ...term, [side]: open ? range[side === "from" ? 0 : 1] : null })
            }
          />
          <fieldset disabled={open} className={open ? "grow opacity-40" : "grow"}>
            <NumberField
              short
              label={side === "from" ? "From" : "To"}
              {...{ unit }}
              slider={range}
              testId={`${testId}.${side}-value`}
              value={value ?? range[side === "from" ? 0 : 1]}
              onPreview={(number) => onPreview({ ...term, [side]: number })}
              onCommit={(number) => onCommit({ ...term, [side]: number })}
            />
          </fieldset>
        </div>
        {!open && (
          <div className="pl-5">
            <NumberField
              short
              label={side === "from" ? "rises over" : "fades over"}
              {...{ unit }}
              slider={[0, span / 2]}
              value={term[soft]}
              onPreview={(number) => onPreview({ ...term, [soft]: number })}
              onCommit={(number) => onCommit({ ...term, [soft]: number })}
            />
          </div>
        )}
      </>
    );
  };
  const first = useRecipe()?.masks?.[0]?.name;
  const offered = readings.filter(
    ({ reading, needs }) =>
      reading === kind ||
      ((!needs || products.includes(needs)) &&
        (first !== undefined || !OF_MASKS.includes(reading))),
  );
  return (
    <div className="border-base-300 bg-base-100 space-y-1 rounded border p-1.5">
      <div className="flex flex-wrap items-center gap-1">
        {index > 0 && (
          <select
            className="select select-xs w-20 shrink-0"
            aria-label="How it joins the readings before it"
            data-testid={`${testId}.join`}
            value={term.join}
            onChange={(event) => onCommit({ ...term, join: event.target.value as Term["join"] })}
          >
            {joins.map((join) => (
              <option key={join} value={join}>
                {join}
              </option>
            ))}
          </select>
        )}
        <select
          className="select select-xs w-28 min-w-0 grow"
          aria-label="Reading"
          data-testid={`${testId}.reading`}
          value={kind}
          onChange={(event) => onCommit(fresh(sheetOf(event.target.value), term, first))}
        >
          {offered.map(({ reading, title }) => (
            <option key={reading} value={reading}>
              {title}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-1 text-xs">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={term.invert}
            onChange={(event) => onCommit({ ...term, invert: event.target.checked })}
          />
          invert
        </label>
        {watchable && index > 0 && <MaskThumb owner={`${owner}#${index}`} className="h-6 w-8" />}
        {watchable && <Watch stage={`${owner}#${index}`} />}
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Remove this reading"
          onClick={onRemove}
        >
          <Trash2 size={13} />
        </button>
      </div>
      <ReadingFields
        reading={term.of}
        {...{ testId }}
        onPreview={(of) => onPreview({ ...term, of })}
        onCommit={(of) => onCommit({ ...term, of })}
      />
      {watchable && <TermHistogram {...{ owner, index, term, unit, onPreview, onCommit }} />}
      {end("from")}
      {end("to")}
      <details>
        <summary className="cursor-pointer text-xs">
          Response curve{(term.curve ?? []).length > 1 ? " — bent" : ""}
        </summary>
        <div className="flex items-end gap-2 pt-1">
          <ShareCurve
            testId={`${testId}.curve`}
            points={(term.curve ?? []) as [number, number][]}
            onPreview={(curve) => onPreview({ ...term, curve })}
            onCommit={(curve) => onCommit({ ...term, curve })}
          />
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            onClick={() => onCommit({ ...term, curve: [] })}
          >
            Straight
          </button>
        </div>
      </details>
      {index > 0 && (
        <NumberField
          label="Weight"
          hint="How much this reading counts at all"
          slider={[0, 1]}
          standard={1}
          value={term.weight ?? 1}
          onPreview={(weight) => onPreview({ ...term, weight })}
          onCommit={(weight) => onCommit({ ...term, weight })}
        />
      )}
    </div>
  );
}

/** Shows the mask up to here on the land. */
function Watch({ stage }: { stage: string }) {
  const watched = useView((view) => view.watched === stage);
  return (
    <button
      type="button"
      className={`btn btn-xs btn-square ${watched ? "btn-primary" : "btn-ghost"}`}
      aria-pressed={watched}
      aria-label="Show the mask up to this reading"
      title="Show the mask up to this reading on the land, hatched"
      onClick={() => changeView({ watched: watched ? null : stage })}
    >
      {watched ? <Eye size={13} /> : <EyeOff size={13} />}
    </button>
  );
}

/** A term of another reading, with a range to begin with. */
function fresh(sheet: ReadingKind, term: Term, mask: string | undefined): Term {
  const made = begun(sheet);
  const of = OF_MASKS.includes(sheet.reading) ? withParameter(made, "mask", mask) : made;
  const [low, high] = usual(sheet);
  const plain = { ...term, of, curve: [], invert: false };
  return sheet.is_share
    ? { ...plain, from: null, to: null, soft_from: 0, soft_to: 0 }
    : {
        ...plain,
        from: null,
        to: low + (high - low) / 2,
        soft_from: 0,
        soft_to: (high - low) / 10,
      };
}
