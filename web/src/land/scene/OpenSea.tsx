import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, GLSL3, ShaderMaterial } from "three";
import type { Picture } from "../../live/picture";
import { useView } from "../../studio/view";
import { useAir } from "./air";
import { seaFragment, seaVertex } from "./shaders/openSea";
import { setUniforms } from "./uniforms";

/** How far it goes on, in widths of the land. */
const FAR = 30;

/** Whoever stands on the land sees its sea go on to the horizon. */
export function OpenSea({ picture }: { picture: Picture }) {
  const exaggeration = useView((view) => view.exaggeration);
  const air = useAir();
  const { cols, rows, cell_m, low_m, sea_level_m } = picture.header;
  const geometry = useMemo(() => around(cols, rows), [cols, rows]);
  const material = useMemo(
    () =>
      new ShaderMaterial({
        glslVersion: GLSL3,
        vertexShader: seaVertex,
        fragmentShader: seaFragment,
        side: DoubleSide,
      }),
    [],
  );
  useEffect(() => setUniforms(material, { ...air }), [air, material]);
  useEffect(
    () => () => {
      geometry.dispose();
      material.dispose();
    },
    [geometry, material],
  );
  if (low_m >= sea_level_m) return null;
  return (
    <mesh
      {...{ geometry, material }}
      position-y={(sea_level_m * exaggeration) / (cols * cell_m)}
      frustumCulled={false}
      raycast={() => undefined}
    />
  );
}

/** Four pieces around the land, whose surface ends in the middle of its outermost cells. */
function around(cols: number, rows: number): BufferGeometry {
  const [east, south] = [0.5 - 0.5 / cols, (0.5 * rows - 0.5) / cols];
  const pieces = [
    [-FAR, -FAR, FAR, -south],
    [-FAR, south, FAR, FAR],
    [-FAR, -south, -east, south],
    [east, -south, FAR, south],
  ] as const;
  const corners = pieces.flatMap(([west, north, east, end]) => [
    [west, 0, north],
    [west, 0, end],
    [east, 0, north],
    [east, 0, north],
    [west, 0, end],
    [east, 0, end],
  ]);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(corners.flat()), 3));
  return geometry;
}
