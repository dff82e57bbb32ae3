import { Clipboard, Trash2 } from "lucide-react";
import type { Recipe, Strand } from "../api/types";
import { commit, rename } from "../live/edit";
import { freshId, LAND, operationOf, strandOf } from "../live/recipe";
import { openAndFocus } from "../studio/focus";
import { changeView } from "../studio/view";
import { AddStep } from "./AddStep";
import { useClipboard } from "./clipboard";

/** The name of the open strand, and what can be done with it. */
export function StrandHead({ recipe, strand }: { recipe: Recipe; strand: Strand }) {
  const copied = useClipboard((state) => state.step);
  const isLand = strand.name === LAND;
  const paste = () => {
    if (!copied) return;
    const id = freshId(recipe, operationOf(copied)[0]);
    void commit(`Paste ${copied.name}`, (draft) => {
      strandOf(draft, strand.name)?.steps.push({ ...copied, id });
    });
    openAndFocus(id);
  };
  const call = async (to: string) => {
    if (!to || to === strand.name) return;
    if (await rename("strand", strand.name, to)) changeView({ strand: to });
  };
  const remove = () => {
    changeView({ strand: LAND, solo: null });
    void commit(`Delete ${strand.name}`, (draft) => {
      draft.strands = draft.strands.filter((other) => other.name !== strand.name);
    });
  };
  return (
    <header className="border-base-300 flex items-center gap-1 border-b px-2 py-1">
      {isLand ? (
        <h2 className="grow text-sm font-semibold">Column</h2>
      ) : (
        <input
          className="input input-xs grow font-semibold"
          aria-label="Name of the strand"
          data-testid="strand-name"
          key={strand.name}
          defaultValue={strand.name}
          onBlur={(event) => void call(event.target.value.trim())}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      )}
      {!isLand && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Delete this strand"
          title="Delete this strand"
          onClick={remove}
        >
          <Trash2 size={13} />
        </button>
      )}
      {copied && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Paste the copied step"
          title={`Paste “${copied.name}”`}
          data-testid="paste-step"
          onClick={paste}
        >
          <Clipboard size={13} />
        </button>
      )}
      <AddStep recipe={recipe} strand={strand.name} />
    </header>
  );
}
