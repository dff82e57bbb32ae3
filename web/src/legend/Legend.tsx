import { arrayMove } from "@dnd-kit/sortable";
import { useKinds } from "../api/useKinds";
import { SortableList } from "../controls/SortableList";
import { commit } from "../live/edit";
import { landSteps, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { productsOf } from "../live/products";
import { AddGround } from "./AddGround";
import { CoverRow } from "./CoverRow";
import { NamedMasks } from "./NamedMasks";
import { WholeGround } from "./WholeGround";

const NO_SHARES: { id: string; share: number; colour: number[] }[] = [];

/** The ground as a map legend that is also its editor; top layer first. */
export function Legend() {
  const recipe = useRecipe();
  const shares = useSession((state) => state.now?.header.covers ?? NO_SHARES);
  const kinds = useKinds();
  if (!recipe) return null;
  const products = productsOf(landSteps(recipe), kinds);
  const { covers } = recipe;
  const topDown = [...covers].reverse();
  const seen = (id: string) => {
    const found = shares.find((entry) => entry.id === id);
    return { share: found?.share, colour: found?.colour };
  };
  const reorder = (id: string, over: string) => {
    const from = covers.findIndex((cover) => cover.id === id);
    const to = covers.findIndex((cover) => cover.id === over);
    void commit(`Move ${covers[from]?.name}`, (draft) => {
      draft.covers = arrayMove(draft.covers, from, to);
    });
  };
  return (
    <section className="flex h-full flex-col" aria-label="Legend">
      <header className="border-base-300 flex items-center justify-between border-b px-2 py-1">
        <h2 className="text-sm font-semibold">Legend</h2>
        <AddGround />
      </header>
      <div className="min-h-0 grow overflow-y-auto">
        <SortableList entries={topDown} onMove={reorder}>
          {topDown.map((cover) => (
            <CoverRow
              key={cover.id}
              cover={cover}
              bottom={cover.id === covers[0]?.id}
              {...seen(cover.id)}
              products={products}
            />
          ))}
        </SortableList>
        <WholeGround {...{ recipe, products }} />
        <NamedMasks {...{ recipe, products }} />
        {recipe.covers.length === 0 && (
          <p className="text-base-content/80 p-2 text-xs">Bare ground. Add a first layer.</p>
        )}
      </div>
    </section>
  );
}
