import { useQuery } from "@tanstack/react-query";
import { Combine, Star, X } from "lucide-react";
import { compare } from "fast-json-patch";
import { produce } from "immer";
import { useState } from "react";
import { answered, api } from "../api/client";
import type { Recipe } from "../api/types";
import { Working } from "../controls/Working";
import { commitValue } from "../live/edit";
import { useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { changeView } from "../studio/view";
import { crossed, type Child } from "./crossing";
import { adoptInto, dropFavourite, keepFavourite, useTrays, type Favourite } from "./favourites";

const CELLS = 128;
const CHILDREN = 8;
const NONE: Favourite[] = [];

/** Variants that were put aside: adopted later, or crossed with one another. */
export function FavouritesTray({ shapeOnly }: { shapeOnly: boolean }) {
  const landscape = useSession((state) => state.landscape) ?? "";
  const favourites = useTrays((state) => state.trays[landscape] ?? NONE);
  const recipe = useRecipe();
  const [chosen, setChosen] = useState<number[]>([]);
  if (favourites.length === 0 || !recipe) return null;
  const parents = chosen.flatMap((id) => favourites.filter((favourite) => favourite.id === id));
  const [first, second] = parents;
  return (
    <section
      className="border-base-300 mt-2 shrink-0 space-y-1 border-t pt-2"
      aria-label="Tray"
      data-testid="tray"
    >
      <h3 className="text-xs font-semibold">
        Tray <span className="font-normal">— choose two to cross them</span>
      </h3>
      <ul className="flex gap-1.5 overflow-x-auto">
        {favourites.map((favourite) => (
          <li key={favourite.id} className="shrink-0">
            <button
              type="button"
              className={`block rounded-sm outline-2 ${chosen.includes(favourite.id) ? "outline-primary" : "outline-transparent"}`}
              aria-pressed={chosen.includes(favourite.id)}
              aria-label="Choose it to be crossed"
              data-testid={`favourite-${favourite.id}`}
              onClick={() =>
                setChosen(
                  chosen.includes(favourite.id)
                    ? chosen.filter((id) => id !== favourite.id)
                    : [...chosen, favourite.id].slice(-2),
                )
              }
            >
              <img src={favourite.picture} alt="" className="h-14 rounded-sm" />
            </button>
            <p className="flex justify-between">
              <AdoptButton steps={favourite.steps} />
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label="Take it out of the tray"
                onClick={() => dropFavourite(landscape, favourite.id)}
              >
                <X size={12} />
              </button>
            </p>
          </li>
        ))}
      </ul>
      {first && second && (
        <Crossing {...{ landscape, recipe, first, second, shapeOnly }} key={chosen.join()} />
      )}
    </section>
  );
}

function AdoptButton({ steps }: Pick<Favourite, "steps">) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs"
      onClick={() => {
        changeView({ sheetOf: null });
        void commitValue((draft) => adoptInto(draft, { steps }));
      }}
    >
      Adopt
    </button>
  );
}

interface CrossingProps {
  landscape: string;
  recipe: Recipe;
  first: Favourite;
  second: Favourite;
  shapeOnly: boolean;
}

/** Children of two favourites: what each has of whom, and how it looks. */
function Crossing({ landscape, recipe, first, second, shapeOnly }: CrossingProps) {
  const [asked, setAsked] = useState(false);
  const revision = useSession((state) => state.head?.revision);
  const children = crossed(recipe, first, second, CHILDREN);
  const { data, error } = useQuery({
    queryKey: ["crossing", landscape, revision, first.id, second.id, shapeOnly],
    enabled: asked,
    staleTime: Infinity,
    queryFn: ({ signal }) => {
      const patchOf = ({ steps }: Child) =>
        compare(
          recipe,
          produce(recipe, (draft) => adoptInto(draft, { steps })),
        );
      const body = {
        variants: children.map(patchOf) as never,
        cells: CELLS,
        shape_only: shapeOnly,
      };
      const params = { path: { id: landscape } };
      return answered(api.POST("/api/landscapes/{id}/variants", { params, body, signal }));
    },
  });
  if (!asked) {
    return (
      <button
        type="button"
        className="btn btn-xs"
        data-testid="cross"
        onClick={() => setAsked(true)}
      >
        <Combine size={13} /> Cross the two
      </button>
    );
  }
  if (error) return <p className="text-error text-xs">{error.message}</p>;
  if (!data)
    return <Working what={`Growing ${CHILDREN} children`} onStop={() => setAsked(false)} />;
  return (
    <ul className="grid grid-cols-4 gap-1.5" data-testid="children">
      {data.variants.map(({ picture }, i) => {
        const child = children[i];
        if (!child) return null;
        const words = child.words.join("\n");
        return (
          <li key={i} className="text-xs">
            <img src={picture} alt="" className="w-full rounded-sm" title={words} />
            <details>
              <summary className="cursor-pointer">What it has of whom</summary>
              <p className="whitespace-pre-line">{words}</p>
            </details>
            <p className="flex">
              <AdoptButton steps={child.steps} />
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label="Put it into the tray"
                onClick={() => keepFavourite(landscape, { steps: child.steps, picture })}
              >
                <Star size={12} />
              </button>
            </p>
          </li>
        );
      })}
    </ul>
  );
}
