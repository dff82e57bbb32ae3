import { Plus } from "lucide-react";
import type { Cover } from "../api/types";
import { useKinds } from "../api/useKinds";
import { commit } from "../live/edit";
import { freshId, landSteps, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { tracesOf } from "../live/traces";
import { CoverRow } from "./CoverRow";
import { NamedMasks } from "./NamedMasks";

const NO_SHARES: { id: string; share: number }[] = [];

/** The ground as a map legend that is also its editor; top layer first. */
export function Legend() {
  const recipe = useRecipe();
  const shares = useSession((state) => state.now?.header.covers ?? NO_SHARES);
  const kinds = useKinds();
  if (!recipe) return null;
  const traces = tracesOf(landSteps(recipe), kinds);
  const add = () => {
    const cover: Cover = {
      id: freshId(recipe, "cover"),
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
    void commit("Add a ground", (draft) => void draft.covers.push(cover));
  };
  return (
    <section className="flex h-full flex-col" aria-label="Legend">
      <header className="border-base-300 flex items-center justify-between border-b px-2 py-1">
        <h2 className="text-sm font-semibold">Legend</h2>
        <button type="button" className="btn btn-xs" onClick={add}>
          <Plus size={13} /> Ground
        </button>
      </header>
      <div className="min-h-0 grow overflow-y-auto">
        {[...recipe.covers].reverse().map((cover) => (
          <CoverRow
            key={cover.id}
            cover={cover}
            bottom={cover.id === recipe.covers[0]?.id}
            share={shares.find((entry) => entry.id === cover.id)?.share}
            traces={traces}
          />
        ))}
        <NamedMasks {...{ recipe, traces }} />
        {recipe.covers.length === 0 && (
          <p className="text-base-content/70 p-2 text-xs">Bare ground. Add a first layer.</p>
        )}
      </div>
    </section>
  );
}
