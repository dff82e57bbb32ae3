import type { components } from "../api/schema";

export type NewMesh = components["schemas"]["NewMesh"];
export type Format = "glb" | "obj" | "ply" | "stl";
export type Bound = "triangles" | "ratio" | "within_m";

/** What is chosen of a mesh, each way of bounding it with its last value. */
export interface MeshWish {
  format: Format;
  bound: Bound;
  triangles: number;
  ratio: number;
  within_m: number;
  solid: boolean;
  print_mm: number | null;
  faceted: boolean;
  levels: number;
  textures: number | null;
}

export const USUAL_MESH: MeshWish = {
  format: "glb",
  bound: "ratio",
  triangles: 10_000,
  ratio: 0.25,
  within_m: 1,
  solid: false,
  print_mm: null,
  faceted: false,
  levels: 1,
  textures: 1024,
};

/** As the service takes it: only what goes together. */
export function asOrder(wish: MeshWish): NewMesh {
  const { format, bound, solid, faceted, levels } = wish;
  return {
    format,
    triangles: bound === "triangles" ? wish.triangles : null,
    ratio: bound === "ratio" ? wish.ratio : null,
    within_m: bound === "within_m" ? wish.within_m : null,
    solid,
    thickness_m: null,
    print_mm: solid ? wish.print_mm : null,
    faceted,
    levels,
    textures: format === "glb" ? wish.textures : null,
  };
}

/** About how many triangles come of it; nothing is known where a distance decides. */
export function trianglesOf(wish: MeshWish, cols: number, rows: number): number | null {
  const all = 2 * (cols + 1) * (rows + 1);
  if (wish.bound === "triangles") return Math.min(wish.triangles, all);
  return wish.bound === "ratio" ? Math.round(wish.ratio * all) : null;
}
