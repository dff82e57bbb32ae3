import { useEffect, useRef, useState } from "react";
import type { Recipe } from "../api/types";
import { useRecipe } from "../live/recipe";
import { MaskThumb } from "./MaskThumb";

const CELLS = 384;

/** All masks of a recipe: whose they are, and what these are called. */
function masksOf(recipe: Recipe): { owner: string; name: string }[] {
  const steps = recipe.strands.flatMap((strand) => strand.steps);
  return [
    ...recipe.covers.filter((cover) => cover.mask).map(({ id, name }) => ({ owner: id, name })),
    ...steps.filter((step) => step.mask).map(({ id, name }) => ({ owner: id, name })),
    ...(recipe.masks ?? []).map(({ name }) => ({ owner: `mask:${name}`, name })),
    ...(recipe.finish?.washes ?? []).map(({ id, name }) => ({ owner: id, name })),
  ];
}

/** A mask beside another one, and where the two differ. */
export function MaskCompare({ owner, onClose }: { owner: string; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const recipe = useRecipe();
  const masks = recipe ? masksOf(recipe) : [];
  const [other, setOther] = useState(() => masks.find((mask) => mask.owner !== owner)?.owner ?? "");
  useEffect(() => dialog.current?.showModal(), []);
  if (!recipe) return null;
  const { width_m, depth_m } = recipe.extent;
  const nameOf = (wanted: string) => masks.find((mask) => mask.owner === wanted)?.name ?? wanted;
  const place = { aspectRatio: `${width_m} / ${depth_m}` };
  const picture = (of: string) => (
    <MaskThumb owner={of} cells={CELLS} className="absolute inset-0 h-full w-full" />
  );
  return (
    <dialog ref={dialog} className="modal" aria-label="Two masks" onClose={onClose}>
      <div className="modal-box max-w-5xl space-y-2">
        <h2 className="text-lg font-semibold">Two masks beside each other</h2>
        <div className="grid gap-3 sm:grid-cols-3">
          <figure>
            <div className="relative" style={place}>
              {picture(owner)}
            </div>
            <figcaption className="text-sm">{nameOf(owner)}</figcaption>
          </figure>
          <figure>
            <div className="relative" style={place}>
              {other && picture(other)}
            </div>
            <select
              className="select select-xs mt-1 w-full"
              aria-label="The other mask"
              data-testid="other-mask"
              value={other}
              onChange={(event) => setOther(event.target.value)}
            >
              {masks
                .filter((mask) => mask.owner !== owner)
                .map((mask) => (
                  <option key={mask.owner} value={mask.owner}>
                    {mask.name}
                  </option>
                ))}
            </select>
          </figure>
          <figure>
            <div className="relative isolate" style={place} data-testid="masks-differ">
              {picture(owner)}
              <div className="absolute inset-0 mix-blend-difference">{other && picture(other)}</div>
            </div>
            <figcaption className="text-sm">Where they differ: white</figcaption>
          </figure>
        </div>
        <form method="dialog" className="modal-action">
          <button className="btn btn-sm">Close</button>
        </form>
      </div>
    </dialog>
  );
}
