import type { Wish } from "../api/types";
import { asMeshWish, meshOf, USUAL_MESH, type MeshChoice } from "./meshChoice";

export const MESH = "mesh";

/** What is chosen to be exported. */
export interface Choice extends Omit<Wish, "layers" | "mesh"> {
  /** What is usual when nothing was chosen. */
  layers: string[] | null;
  mesh: MeshChoice;
}

export const USUAL: Choice = {
  cells: 1024,
  tile: null,
  layers: null,
  fields: "tif",
  range: "fit",
  colour: "png",
  packed: [],
  mesh: USUAL_MESH,
};

/** As the service takes it. */
export function asWish(choice: Choice, usual: string[]): Wish {
  const layers = choice.layers ?? usual;
  return { ...choice, layers, mesh: layers.includes(MESH) ? asMeshWish(choice.mesh) : null };
}

/** What a wish chooses. */
export function choiceOf(wish: Wish, before: Choice): Choice {
  const { mesh } = wish;
  return {
    ...wish,
    layers: wish.layers.length > 0 || wish.packed.length > 0 ? wish.layers : null,
    mesh: mesh ? meshOf(mesh, before.mesh) : before.mesh,
  };
}
