import { Layers, Plus } from "lucide-react";
import { useRef, useState } from "react";
import type { Cover, CoverCombination, ImportedPicture } from "../api/types";
import { useCoverCombinations } from "../api/useCombinations";
import { FileButton } from "../controls/FileButton";
import { commit } from "../live/edit";
import { useRecipe, withFreshIds } from "../live/recipe";
import { importPicture, nameOf, PICTURE_FILES } from "../shelf/importFile";
import { openAndFocus } from "../studio/focus";
import { WeightsDialog } from "./WeightsDialog";

/** Ways to add ground: a layer, layers that are often used together, a weight map. */
export function AddGround() {
  const combinations = useCoverCombinations();
  const menu = useRef<HTMLDetailsElement>(null);
  const recipe = useRecipe();
  const [weights, setWeights] = useState<{ name: string; found: ImportedPicture } | null>(null);
  const lay = (what: string, covers: Cover[]) => {
    if (menu.current) menu.current.open = false;
    if (!recipe) return;
    const fresh = withFreshIds(recipe, covers);
    void commit(what, (draft) => void draft.covers.push(...fresh));
    openAndFocus(fresh.at(-1)?.id);
  };
  const plain: Cover = {
    id: "cover",
    name: "New ground",
    on: true,
    colour: "#8a7f6a",
    mottle: { amount: 0.15, feature_m: 400 },
    mask: {
      terms: [
        {
          of: "slope",
          from: null,
          to: 15,
          soft_from: 0,
          soft_to: 5,
          invert: false,
          join: "multiply",
        },
      ],
    },
  };
  const importWeights = async (file: File) => {
    const found = await importPicture(file);
    if (menu.current) menu.current.open = false;
    if (found) setWeights({ name: nameOf(file), found });
  };
  const entry = (combination: CoverCombination) => (
    <li key={combination.key}>
      <button
        type="button"
        className="items-start"
        data-testid={`lay-${combination.key}`}
        onClick={() => lay(`Add ${combination.title}`, combination.covers as unknown as Cover[])}
      >
        <Layers size={14} className="mt-0.5 shrink-0" />
        <span>
          <span className="block text-xs font-medium">{combination.title}</span>
          <span className="text-base-content/80 block text-[0.7rem]">{combination.about}</span>
        </span>
      </button>
    </li>
  );
  return (
    <>
      <details ref={menu} className="dropdown dropdown-end">
        <summary className="btn btn-xs" data-testid="add-ground">
          <Plus size={13} /> Ground
        </summary>
        <div className="dropdown-content bg-base-100 border-base-300 z-20 max-h-[70vh] w-72 overflow-y-auto rounded border p-1 shadow">
          <ul className="menu menu-xs w-full p-0">
            <li>
              <button
                type="button"
                data-testid="add-cover"
                onClick={() => lay("Add a ground", [plain])}
              >
                <Plus size={14} /> One layer
              </button>
            </li>
            {combinations.map(entry)}
          </ul>
          <div className="p-2">
            <FileButton
              label="Import a weight map"
              title="A picture whose channels say how much of each ground there is"
              accept={PICTURE_FILES}
              testId="import-weights"
              onFiles={([file]) => file && void importWeights(file)}
            />
          </div>
        </div>
      </details>
      {weights && (
        <WeightsDialog
          {...weights}
          onTake={(covers) => lay(`Import the weights of ${weights.name}`, covers)}
          onClose={() => setWeights(null)}
        />
      )}
    </>
  );
}
