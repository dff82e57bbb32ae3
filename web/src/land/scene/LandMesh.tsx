import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Frustum, type Camera, type Mesh, type Raycaster, type Vector3 } from "three";
import { sizeOf, type Picture } from "../../live/picture";
import { useView } from "../../studio/view";
import { mostLift, type CoverRelief } from "./coverRelief";
import { cutSides } from "./cutSides";
import { useDetails } from "./detailTextures";
import { heightBounds } from "./heightBounds";
import { heightRay } from "./heightRay";
import { PatchGeometry } from "./patchGeometry";
import { WHOLE, within, type Piece } from "./pieces";
import { above, patchesSeen } from "./quadtree";
import { SPLIT, type Quality } from "./quality";
import { QualityKeeper } from "./QualityKeeper";
import { setUniforms } from "./uniforms";
import { useLandMaterials } from "./useLandMaterials";

/** Below its lowest point the block goes down by this share of its width. */
const PLINTH = 0.035;
const NO_RELIEFS: CoverRelief[] = [];

type Props = { picture: Picture } & Omit<React.ComponentProps<"mesh">, "geometry" | "raycast">;

/** The surface of the land and its cut sides, as fine as the eye can see it. */
export function LandMesh({ picture, ...events }: Props) {
  const exaggeration = useView((view) => view.exaggeration);
  const invalidate = useThree((state) => state.invalidate);
  const plain = useView(
    ({ greyForm, trace, maskAlone, watched }) =>
      greyForm || trace !== null || (maskAlone && watched !== null),
  );
  const ids = useMemo(() => picture.header.covers.map((cover) => cover.id), [picture]);
  const details = useDetails(ids);
  const reliefs = plain ? NO_RELIEFS : (details?.reliefs ?? NO_RELIEFS);
  const bounds = useMemo(
    () => heightBounds(picture, exaggeration, mostLift(reliefs)),
    [picture, exaggeration, reliefs],
  );
  const patches = useMemo(() => new PatchGeometry(), []);
  const { geometry } = patches;
  const materials = useLandMaterials(picture, plain ? null : details);
  const [material] = materials;
  const mesh = useRef<Mesh>(null);
  const sides = useRef<Mesh>(null);
  useEffect(() => () => geometry.dispose(), [geometry]);
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
