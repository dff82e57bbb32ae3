import { Plus } from "lucide-react";
import type { Mask, Recipe } from "../api/types";
import { MaskEditor } from "../controls/MaskEditor";
import { MaskThumb } from "../controls/MaskThumb";
import { commit, commitValue, preview, rename } from "../live/edit";
import { changeView, useView } from "../studio/view";
import { NameRow } from "./NameRow";
import { OpenButton } from "./OpenButton";

/** Masks with a name, to be used in many places. */
export function NamedMasks({ recipe, products }: { recipe: Recipe; products: string[] }) {
  const masks = recipe.masks ?? [];
  const add = () => {
    let name = "";
    for (let i = masks.length + 1; !name; i++) {
      if (!masks.some((entry) => entry.name === `mask ${i}`)) name = `mask ${i}`;
    }
    void commit("Add a named mask", (draft) => {
      draft.masks = [...(draft.masks ?? []), { name, mask: { terms: [] } }];
    });
    changeView({ openBand: `mask:${name}` });
  };
  return (
    <section aria-label="Named masks">
      <header className="border-base-300 flex items-center justify-between border-y px-2 py-1">
        <h3 className="text-sm font-semibold">Named masks</h3>
        <button type="button" className="btn btn-xs" data-testid="add-mask" onClick={add}>
          <Plus size={13} /> Mask
        </button>
      </header>
      {masks.map(({ name, mask }) => (
        <NamedMaskRow key={name} {...{ name, mask, products }} />
      ))}
    </section>
  );
}

function NamedMaskRow({ name, mask, products }: { name: string; mask: Mask; products: string[] }) {
  const owner = `mask:${name}`;
  const open = useView((view) => view.openBand === owner);
  const set = (next: Mask | undefined) => (draft: Recipe) => {
    const target = draft.masks?.find((entry) => entry.name === name);
    if (target) target.mask = next ?? { terms: [] };
  };
  const call = async (to: string) => {
    if (await rename("mask", name, to)) changeView({ openBand: `mask:${to}` });
  };
  return (
    <article className="border-base-300 border-b">
      <div className="flex items-center gap-1.5 px-1.5">
        <MaskThumb owner={owner} />
        <OpenButton owner={owner} name={name} className="min-w-0 grow p-1.5" />
      </div>
      {open && (
        <div className="bg-base-200 space-y-2 p-2">
          <NameRow
            name={name}
            onRename={(to) => void call(to)}
            without={(draft) => {
              draft.masks = (draft.masks ?? []).filter((entry) => entry.name !== name);
            }}
          />
          <MaskEditor
            owner={owner}
            {...{ mask, products }}
            onPreview={(next) => preview(set(next))}
            onCommit={(next) => void commitValue(set(next))}
          />
        </div>
      )}
    </article>
  );
}
