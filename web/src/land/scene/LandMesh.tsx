import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Frustum, Vector2, Vector3, type Camera, type Mesh, type Raycaster } from "three";
import { sizeOf, type Picture } from "../../live/picture";
import { useView } from "../../studio/view";
import { accentColour, STRIPES, usePhase } from "../hatch";
import { useLandCanvas } from "../useLandCanvas";
import { useAir } from "./air";
import { mostLift, type CoverRelief } from "./coverRelief";
import { cutSides } from "./cutSides";
import { useDetails } from "./detailTextures";
import { heightBounds } from "./heightBounds";
import { heightRay } from "./heightRay";
import { coverColours, coverLays, landMaterials } from "./landMaterials";
import { PatchGeometry } from "./patchGeometry";
import { colourMap, pictureTextures } from "./pictureTextures";
import { WHOLE, within, type Piece } from "./pieces";
import { above, patchesSeen } from "./quadtree";
import { SPLIT, type Quality } from "./quality";
import { QualityKeeper } from "./QualityKeeper";
import { setUniforms } from "./uniforms";

/** Closer than the first, metres, materials show; farther than the second not. */
const REACH_M = [2500, 6000] as const;
/** Below its lowest point the block goes down by this share of its width. */
const PLINTH = 0.035;
const NO_RELIEFS: CoverRelief[] = [];

type Props = { picture: Picture } & Omit<React.ComponentProps<"mesh">, "geometry" | "raycast">;

/** The surface of the land and its cut sides, as fine as the eye can see it. */
export function LandMesh({ picture, ...events }: Props) {
  const exaggeration = useView((view) => view.exaggeration);
  const invalidate = useThree((state) => state.invalidate);
  const plain = useView((view) => view.greyForm || view.trace !== null);
  const { canvas, drawn } = useLandCanvas(picture);
  const air = useAir();
  const ids = useMemo(() => picture.header.covers.map((cover) => cover.id), [picture]);
  const details = useDetails(ids);
  const reliefs = plain ? NO_RELIEFS : (details?.reliefs ?? NO_RELIEFS);
  const bounds = useMemo(
    () => heightBounds(picture, exaggeration, mostLift(reliefs)),
    [picture, exaggeration, reliefs],
  );
  const patches = useMemo(() => new PatchGeometry(), []);
  const { geometry } = patches;
  const textures = useMemo(() => pictureTextures(picture), [picture]);
  const materials = useMemo(() => landMaterials(), []);
  const [material] = materials;
  const mesh = useRef<Mesh>(null);
  const sides = useRef<Mesh>(null);
  useEffect(() => () => geometry.dispose(), [geometry]);
  useEffect(
    () => () => Object.values(textures).forEach((texture) => texture.dispose()),
    [textures],
  );
  useEffect(() => () => materials.forEach((entry) => entry.dispose()), [materials]);

  const map = useRef<ReturnType<typeof colourMap> | null>(null);
  useEffect(() => {
    // A texture cannot change its size once it was drawn.
    const size = `${canvas.width} × ${canvas.height}`;
    if (!map.current || map.current.name !== size) {
      map.current?.dispose();
      map.current = colourMap(canvas, size);
    }
    map.current.needsUpdate = true;
    setUniforms(material, { map: map.current });
    invalidate();
  }, [canvas, drawn, material, invalidate]);

  useEffect(() => {
    const { cols, rows, sea_level_m, covers } = picture.header;
    const { width } = sizeOf(picture);
    setUniforms(material, {
      ...textures,
      cells: new Vector2(cols, rows),
      sea: sea_level_m,
      rise: exaggeration / width,
      metres: width,
      reach: new Vector2(REACH_M[0] / width, REACH_M[1] / width),
      colours: coverColours(
        covers.map(({ colour }) => new Vector3(...(colour as [number, number, number]))),
      ),
    });
    invalidate();
  }, [picture, textures, exaggeration, material, invalidate]);

  useEffect(() => {
    setUniforms(material, {
      covers: plain ? 0 : (details?.count ?? 0),
      grain: details?.grain ?? null,
      surfaces: details?.surfaces ?? null,
      lay: coverLays(details?.lay ?? []),
    });
    invalidate();
  }, [details, plain, material, invalidate]);

  useEffect(() => {
    setUniforms(material, air);
    invalidate();
  }, [air, material, invalidate]);

  useEffect(() => {
    const { cols, rows } = picture.header;
    const [red, green, blue] = accentColour().map((value) => value / 255);
    setUniforms(material, {
      accent: new Vector3(red, green, blue),
      stripe: Math.max(1, Math.max(cols, rows) / STRIPES.over),
    });
    invalidate();
  }, [picture, material, invalidate]);
  const phase = usePhase(picture.mask !== null);
  useEffect(() => {
    setUniforms(material, { phase });
    invalidate();
  }, [phase, material, invalidate]);

  const ground = useMemo(() => {
    const { low_m, sea_level_m } = picture.header;
    const lowest = (Math.min(low_m, sea_level_m) * exaggeration) / sizeOf(picture).width;
    return { picture, exaggeration, floor: lowest - PLINTH, covers: reliefs };
  }, [picture, exaggeration, reliefs]);
  useEffect(() => invalidate(), [ground, invalidate]);
  const curtain = useMemo(() => cutSides(ground), [ground]);
  useEffect(() => () => curtain.dispose(), [curtain]);

  /** Readies the land for a frame of a quality, or for a piece of it. */
  const ready = (quality: Quality, camera: Camera, height: number, piece: Piece = WHOLE) => {
    for (const drawn of [mesh.current, sides.current]) {
      if (drawn) drawn.material = materials[quality];
    }
    camera.updateMatrixWorld();
    // How wide a pixel is at a distance of one.
    const pixel = 2 / ((camera.projectionMatrix.elements[5] ?? 1) * height);
    setUniforms(material, { pixel, above: above(bounds, camera.position) });
    const seen = within(piece)
      .multiply(camera.projectionMatrix)
      .multiply(camera.matrixWorldInverse);
    const frustum = new Frustum().setFromProjectionMatrix(seen);
    const split = SPLIT[quality];
    patches.set(ground, patchesSeen(bounds, camera.position, frustum, split), split);
  };

  const pointed = useMemo(
    () =>
      function (
        this: Mesh,
        raycaster: Raycaster,
        hits: { distance: number; point: Vector3; object: Mesh }[],
      ) {
        const point = heightRay(picture, exaggeration, raycaster.ray);
        if (point)
          hits.push({ distance: point.distanceTo(raycaster.ray.origin), point, object: this });
      },
    [picture, exaggeration],
  );
  return (
    <>
      <mesh
        ref={mesh}
        {...events}
        {...{ geometry, material }}
        frustumCulled={false}
        raycast={pointed}
      />
      <mesh
        ref={sides}
        geometry={curtain}
        material={material}
        frustumCulled={false}
        raycast={() => undefined}
      />
      <QualityKeeper ready={ready} />
    </>
  );
}
