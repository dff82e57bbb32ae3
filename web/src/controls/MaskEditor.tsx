import { Eye, EyeOff, Plus } from "lucide-react";
import { produce } from "immer";
import type { Mask, Term } from "../api/types";
import { changeView, useView } from "../studio/view";
import { MaskFinish } from "./MaskFinish";
import { MaskFoot } from "./MaskFoot";
import { MaskThumb } from "./MaskThumb";
import { TermEditor } from "./TermEditor";

interface Props {
  /** The step or cover whose mask this is. */
  owner: string;
  /** What the mask says, when it is one of a step's parameters. */
  title?: string;
  mask: Mask | null | undefined;
  products: string[];
  onPreview: (mask: Mask | undefined) => void;
  onCommit: (mask: Mask | undefined) => void;
}

const NEW_TERM: Term = {
  of: "slope",
  from: null,
  to: 30,
  soft_from: 0,
  soft_to: 8,
  invert: false,
  join: "multiply",
};

const EMPTY: Mask = { terms: [] };

/** Where something takes effect: readings with ranges, one after the other. */
export function MaskEditor({ owner, title, mask, products, onPreview, onCommit }: Props) {
  const watched = useView((view) => view.watched === owner);
  const grey = useView((view) => view.maskAlone);
  const terms = mask?.terms ?? [];
  const withTerm = (i: number, term: Term): Mask =>
    produce(mask ?? EMPTY, (draft) => {
      draft.terms[i] = term;
    });
  const without = (i: number): Mask | undefined => {
    const left = terms.filter((_, k) => k !== i);
    return left.length > 0 ? { ...mask, terms: left } : undefined;
  };
  return (
    <section className="space-y-1.5" aria-label={title ?? "Mask"}>
      <div className="flex items-center justify-between gap-1">
        {!title && terms.length > 0 && <MaskThumb owner={owner} />}
        <h4 className="grow text-xs font-semibold">
          {title ?? "Mask"}{" "}
          {terms.length === 0 && (
            <span className="font-normal">{title ? "— as set above" : "— everywhere"}</span>
          )}
        </h4>
        <div className="flex gap-1">
          {!title && (
            <>
              {watched && (
                <button
                  type="button"
                  className={`btn btn-xs ${grey ? "btn-primary" : "btn-ghost"}`}
                  aria-pressed={grey}
                  title="The mask alone, in grey (G)"
                  data-testid={`${owner}.grey`}
                  onClick={() => changeView({ maskAlone: !grey })}
                >
                  Grey
                </button>
              )}
              <button
                type="button"
                className={`btn btn-xs btn-square ${watched ? "btn-primary" : "btn-ghost"}`}
                aria-pressed={watched}
                aria-label="Show the mask on the land"
                title="Show the mask on the land, hatched"
                onClick={() => changeView({ watched: watched ? null : owner })}
              >
                {watched ? <Eye size={13} /> : <EyeOff size={13} />}
              </button>
            </>
          )}
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            data-testid={`${owner}.add-reading`}
            onClick={() => onCommit({ ...mask, terms: [...terms, NEW_TERM] })}
          >
            <Plus size={13} /> Reading
          </button>
        </div>
      </div>
      {watched && terms.length > 0 && (
        <MaskThumb owner={owner} cells={256} className="h-32 w-full" />
      )}
      {terms.map((term, i) => (
        <TermEditor
          key={i}
          index={i}
          watchable={!title}
          {...{ owner, term, products }}
          onPreview={(next) => onPreview(withTerm(i, next))}
          onCommit={(next) => onCommit(withTerm(i, next))}
          onRemove={() => onCommit(without(i))}
        />
      ))}
      {mask && terms.length > 0 && <MaskFinish {...{ owner, mask, onPreview, onCommit }} />}
      {terms[0] && !title && <MaskFoot owner={owner} first={terms[0].of} />}
    </section>
  );
}
