import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Vector2, Vector3 } from "three";
import { sizeOf, type Picture } from "../../live/picture";
import { useView } from "../../studio/view";
import { accentColour, STRIPES, usePhase } from "../hatch";
import { useLandCanvas } from "../useLandCanvas";
import { useAir } from "./air";
import type { Details } from "./detailTextures";
import { coverColours, coverHabits, coverLays, landMaterials } from "./landMaterials";
import { colourMap, pictureTextures } from "./pictureTextures";
import { setUniforms } from "./uniforms";

/** Closer than the first, metres, materials show; farther than the second not. */
const REACH_M = [2500, 6000] as const;

/** The materials of the land, one a quality, given what a picture shows, how its covers
 * look close up, and the air between. */
export function useLandMaterials(picture: Picture, details: Details | null) {
  const exaggeration = useView((view) => view.exaggeration);
  const invalidate = useThree((state) => state.invalidate);
  const materials = useMemo(() => landMaterials(), []);
  useEffect(() => () => materials.forEach((entry) => entry.dispose()), [materials]);
  // All of them share what they are given.
  const [material] = materials;
  const given = useMemo(
    () => (values: Record<string, unknown>) => {
      setUniforms(material, values);
      invalidate();
    },
    [material, invalidate],
  );

  const { canvas, drawn } = useLandCanvas(picture);
  const map = useRef<ReturnType<typeof colourMap> | null>(null);
  useEffect(() => {
    // A texture cannot change its size once it was drawn.
    const size = `${canvas.width} × ${canvas.height}`;
    if (!map.current || map.current.name !== size) {
      map.current?.dispose();
      map.current = colourMap(canvas, size);
    }
    map.current.needsUpdate = true;
    given({ map: map.current });
  }, [canvas, drawn, given]);

  const textures = useMemo(() => pictureTextures(picture), [picture]);
  useEffect(
    () => () => Object.values(textures).forEach((texture) => texture.dispose()),
    [textures],
  );
  useEffect(() => {
    const { cols, rows, sea_level_m, covers } = picture.header;
    const { width } = sizeOf(picture);
    const [red, green, blue] = accentColour().map((value) => value / 255);
    given({
      ...textures,
      cells: new Vector2(cols, rows),
      sea: sea_level_m,
      rise: exaggeration / width,
      metres: width,
      reach: new Vector2(REACH_M[0] / width, REACH_M[1] / width),
      colours: coverColours(
        covers.map(({ colour }) => new Vector3(...(colour as [number, number, number]))),
      ),
      accent: new Vector3(red, green, blue),
      stripe: Math.max(1, Math.max(cols, rows) / STRIPES.over),
    });
  }, [picture, textures, exaggeration, given]);

  useEffect(() => {
    given({
      covers: details?.count ?? 0,
      grain: details?.grain ?? null,
      surfaces: details?.surfaces ?? null,
      lay: coverLays(details?.lay ?? []),
      habit: coverHabits(details?.habit ?? []),
    });
  }, [details, given]);

  const air = useAir();
  useEffect(() => given(air), [air, given]);
  const phase = usePhase(picture.mask !== null);
  useEffect(() => given({ phase }), [phase, given]);
  return materials;
}
