import { useCatalogue } from "../api/useCatalogue";
import { useKinds } from "../api/useKinds";
import { productsOf } from "../live/products";
import { LAND, useRecipe } from "../live/recipe";
import { MESH } from "./choice";

/** Something that can be delivered. */
export interface Deliverable {
  name: string;
  title: string;
  /** Whether a channel of a picture can hold it. */
  oneNumber: boolean;
  /** Whether it is a field that steps leave, or a mask. */
  ofLand: boolean;
  /** Whether it is delivered when nothing is said. */
  usual: boolean;
}

/** What can be delivered of this land: with what its steps leave, and its masks. */
export function useLayers(): Deliverable[] {
  const { layers, fields } = useCatalogue();
  const kinds = useKinds();
  const recipe = useRecipe();
  const steps = recipe?.strands.find((strand) => strand.name === LAND)?.steps ?? [];
  const left = productsOf(
    steps.filter((step) => step.on ?? true),
    kinds,
  );
  const maps = fields.filter(({ name }) => left.includes(name));
  const masks = recipe?.masks ?? [];
  return [
    ...layers.map(({ name, title, one_number }) => ({
      name,
      title,
      oneNumber: one_number,
      ofLand: false,
      usual: name !== MESH,
    })),
    ...maps.map(({ name, title }) => ({
      name,
      title,
      oneNumber: true,
      ofLand: true,
      usual: true,
    })),
    ...masks.map(({ name }) => ({
      name: `mask:${name}`,
      title: `Mask ‘${name}’`,
      oneNumber: true,
      ofLand: true,
      usual: false,
    })),
  ];
}
