import { DoubleSide, GLSL3, ShaderMaterial, Vector3, Vector4 } from "three";
import { SIDE } from "./detailTextures";
import type { Quality } from "./quality";
import { landFragment, landVertex, MOST_COVERS } from "./shaders/land";

/** The cut rock at the sides, in linear light. */
const STONE = new Vector3(0.07, 0.06, 0.052);
/** The mean colour of a cover that is not there. */
const NO_COLOUR = new Vector3(0.3, 0.3, 0.3);

/** Mean colours of covers, filled up to as many as the shaders take. */
export function coverColours(known: Vector3[]): Vector3[] {
  return Array.from({ length: MOST_COVERS }, (_, k) => known[k] ?? NO_COLOUR);
}

/** How covers lie, four numbers each, filled up to as many as the shaders take. */
export function coverLays(known: number[]): Vector4[] {
  const at = (i: number) => known[i] ?? 1;
  return Array.from(
    { length: MOST_COVERS },
    (_, k) => new Vector4(at(4 * k), at(4 * k + 1), at(4 * k + 2), at(4 * k + 3)),
  );
}

/** How covers' textures are broken up and blended, three numbers each. */
export function coverHabits(known: number[]): Vector3[] {
  const at = (i: number) => known[i] ?? 0;
  return Array.from(
    { length: MOST_COVERS },
    (_, k) => new Vector3(at(3 * k), at(3 * k + 1), at(3 * k + 2)),
  );
}

/** A material for each quality, all of which are given the same. */
export function landMaterials(): [ShaderMaterial, ShaderMaterial, ShaderMaterial] {
  const uniforms = {
    map: { value: null },
    covers: { value: 0 },
    side: { value: SIDE },
    stone: { value: STONE },
    colours: { value: coverColours([]) },
    lay: { value: coverLays([]) },
    habit: { value: coverHabits([]) },
  };
  const made = (quality: Quality) => {
    const material = new ShaderMaterial({
      glslVersion: GLSL3,
      defines: { QUALITY: quality },
      vertexShader: landVertex,
      fragmentShader: landFragment,
      // So that a crack of less than a pixel shows rock and not the sky.
      side: DoubleSide,
    });
    material.uniforms = uniforms;
    return material;
  };
  return [made(0), made(1), made(2)];
}
