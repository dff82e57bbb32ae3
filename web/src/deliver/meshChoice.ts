import type { MeshWish } from "../api/types";

export type Format = "glb" | "obj" | "ply" | "stl";
export type Bound = "triangles" | "ratio" | "within_m";

/** What is chosen of a mesh, each way of bounding it with its last value. */
export interface MeshChoice {
  format: Format;
  bound: Bound;
  triangles: number;
  ratio: number;
  within_m: number;
  solid: boolean;
  thickness_m: number | null;
  print_mm: number | null;
  faceted: boolean;
  levels: number;
  repeat_m: number | null;
  textures: number | null;
  /** What is a cliff, when they are a mesh apart. */
  cliffs: string | null;
  cliffs_edge_m: number | null;
}

export const USUAL_MESH: MeshChoice = {
  format: "glb",
  bound: "ratio",
  triangles: 10_000,
  ratio: 0.25,
  within_m: 1,
  solid: false,
  thickness_m: null,
  print_mm: null,
  faceted: false,
  levels: 1,
  repeat_m: null,
  textures: 1024,
  cliffs: null,
  cliffs_edge_m: null,
};

/** As the service takes it: only what goes together. */
export function asMeshWish(choice: MeshChoice): MeshWish {
  const { format, bound, solid, faceted, cliffs } = choice;
  // Cliffs apart go with one open land.
  const apart = cliffs !== null && !solid;
  const textures = format === "glb" ? choice.textures : null;
  return {
    format,
    triangles: bound === "triangles" ? choice.triangles : null,
    ratio: bound === "ratio" ? choice.ratio : null,
    within_m: bound === "within_m" ? choice.within_m : null,
    solid,
    thickness_m: solid ? choice.thickness_m : null,
    print_mm: solid ? choice.print_mm : null,
    faceted,
    levels: apart ? 1 : choice.levels,
    cliffs: apart ? { of: cliffs, edge_m: choice.cliffs_edge_m } : null,
    repeat_m: textures === null ? choice.repeat_m : null,
    textures,
  };
}

/** What a wish chooses; what it does not say stays as it was. */
export function meshOf(wish: MeshWish, before: MeshChoice): MeshChoice {
  const bound: Bound =
    wish.triangles !== null ? "triangles" : wish.within_m !== null ? "within_m" : "ratio";
  return {
    format: (wish.format ?? "glb") as Format,
    bound,
    triangles: wish.triangles ?? before.triangles,
    ratio: wish.ratio ?? before.ratio,
    within_m: wish.within_m ?? before.within_m,
    solid: wish.solid,
    thickness_m: wish.thickness_m,
    print_mm: wish.print_mm,
    faceted: wish.faceted,
    levels: wish.levels ?? 1,
    repeat_m: wish.repeat_m,
    textures: wish.textures,
    cliffs: wish.cliffs?.of ?? null,
    cliffs_edge_m: wish.cliffs?.edge_m ?? null,
  };
}

/** About how many triangles come of it; nothing is known where a distance decides. */
export function trianglesOf(choice: MeshChoice, cols: number, rows: number): number | null {
  const all = 2 * (cols + 1) * (rows + 1);
  if (choice.bound === "triangles") return Math.min(choice.triangles, all);
  return choice.bound === "ratio" ? Math.round(choice.ratio * all) : null;
}
