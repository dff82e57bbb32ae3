import { OrbitControls } from "@react-three/drei";
import { Canvas, useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { DoubleSide, LinearFilter, SRGBColorSpace } from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import { sizeOf, type Picture } from "../live/picture";
import { changeView, useView } from "../studio/view";
import { Haze, LensCamera, SKY } from "./Atmosphere";
import { reliefGeometry } from "./reliefGeometry";
import { standAt } from "./standing";
import { beginStroke, endStroke, extendStroke, painting } from "./stroke";
import { useLandCanvas } from "./useLandCanvas";
import { usePointing } from "./usePointing";

/** Where the camera stands and what it looks at, in widths of the land. */
const CAMERA = [-0.22, 0.66, 1.0, 0, 0, 0.02];

/** The land in three dimensions, under light that the service baked. */
export function Relief({ picture }: { picture: Picture }) {
  const haze = useView((view) => view.haze);
  return (
    <Canvas
      frameloop="demand"
      dpr={1}
      flat
      style={{ background: haze ? SKY : undefined }}
      gl={{ antialias: true, powerPreference: "low-power" }}
      data-testid="relief"
    >
      <LensCamera at={CAMERA} />
      <Haze />
      <Block picture={picture} />
      <SharedCamera />
    </Canvas>
  );
}

/** A camera that all views of the land share, and that is kept. */
function SharedCamera() {
  const controls = useRef<Controls>(null);
  const standing = useView((view) => view.standing);
  // With a brush in hand drags paint and do not turn the land.
  const held = useView((view) => view.brush !== null);
  const invalidate = useThree((state) => state.invalidate);
  useEffect(() => {
    const apply = (pose: number[] | null) => {
      const mine = controls.current;
      if (!mine) return;
      const [x, y, z, tx, ty, tz] = pose ?? CAMERA;
      mine.object.position.set(x ?? 0, y ?? 0, z ?? 0);
      mine.target.set(tx ?? 0, ty ?? 0, tz ?? 0);
      mine.update();
      invalidate();
    };
    apply(useView.getState().camera);
    return useView.subscribe((state, before) => {
      if (state.camera !== before.camera && !same(poseOf(controls.current), state.camera)) {
        apply(state.camera);
      }
    });
  }, [invalidate]);
  return (
    <OrbitControls
      ref={controls}
      makeDefault
      enableDamping={false}
      enabled={!held}
      minDistance={standing ? 0.01 : 0.08}
      maxDistance={2.5}
      maxPolarAngle={standing ? Math.PI : Math.PI / 2 - 0.02}
      onChange={() => {
        const pose = poseOf(controls.current);
        if (pose && !same(pose, useView.getState().camera)) changeView({ camera: pose });
      }}
    />
  );
}

function poseOf(controls: Controls | null): number[] | null {
  return controls && [...controls.object.position.toArray(), ...controls.target.toArray()];
}

function same(a: number[] | null, b: number[] | null) {
  return a?.length === b?.length && (a ?? []).every((v, i) => Math.abs(v - (b?.[i] ?? 0)) < 1e-5);
}

function Block({ picture }: { picture: Picture }) {
  const { canvas, drawn } = useLandCanvas(picture);
  const invalidate = useThree((state) => state.invalidate);
  const exaggeration = useView((view) => view.exaggeration);
  const pointing = usePointing();
  const geometry = useMemo(() => reliefGeometry(picture, exaggeration), [picture, exaggeration]);
  useEffect(
    () => () => {
      geometry.land.dispose();
      geometry.sides.dispose();
    },
    [geometry],
  );
  useEffect(() => invalidate(), [drawn, geometry, invalidate]);

  const placeOf = (event: ThreeEvent<MouseEvent>) => {
    const { width, depth } = sizeOf(picture);
    const { x, z } = event.point;
    return { x: (x + 0.5) * width, y: picture.header.north_m - (z * width + depth / 2) };
  };
  return (
    <>
      <mesh
        geometry={geometry.land}
        onPointerMove={(event) => {
          changeView({ pointer: placeOf(event) });
          if (painting() && event.buttons === 1) extendStroke(placeOf(event), event.nativeEvent);
        }}
        onPointerDown={(event) => {
          if (painting()) beginStroke(placeOf(event), event.nativeEvent);
        }}
        onPointerUp={() => {
          if (painting()) endStroke();
        }}
        onPointerLeave={() => changeView({ pointer: null })}
        onClick={(event) => {
          // A drag turns the camera; only a click on the spot is meant.
          if (event.delta > 2 || painting()) return;
          const { tool, camera } = useView.getState();
          if (tool !== "stand") return pointing.click(placeOf(event));
          changeView({
            camera: standAt(picture, placeOf(event), camera, exaggeration),
            standing: true,
            tool: "section",
          });
        }}
      >
        <meshBasicMaterial toneMapped={false}>
          {/* A texture cannot change its size once it was drawn, and is made anew. */}
          <canvasTexture
            key={drawn}
            attach="map"
            args={[canvas]}
            colorSpace={SRGBColorSpace}
            minFilter={LinearFilter}
            generateMipmaps={false}
          />
        </meshBasicMaterial>
      </mesh>
      <mesh geometry={geometry.sides}>
        <meshBasicMaterial color="#4b4742" side={DoubleSide} toneMapped={false} />
      </mesh>
      <PointerMark picture={picture} exaggeration={exaggeration} />
    </>
  );
}

/** The cursor: the same place in relief, plan and section. */
function PointerMark({ picture, exaggeration }: { picture: Picture; exaggeration: number }) {
  const pointer = useView((view) => view.pointer);
  const invalidate = useThree((state) => state.invalidate);
  useEffect(() => invalidate(), [pointer, invalidate]);
  if (!pointer) return null;
  const { width, depth } = sizeOf(picture);
  const { cols, cell_m, north_m, sea_level_m } = picture.header;
  const col = Math.floor(pointer.x / cell_m);
  const row = Math.floor((north_m - pointer.y) / cell_m);
  const height = Math.max(picture.heights[row * cols + col] ?? 0, sea_level_m);
  const z = (north_m - pointer.y - depth / 2) / width;
  return (
    <mesh
      position={[pointer.x / width - 0.5, (height / width) * exaggeration, z]}
      raycast={() => undefined}
    >
      <sphereGeometry args={[0.004, 12, 8]} />
      <meshBasicMaterial color="#ffffff" toneMapped={false} />
    </mesh>
  );
}
