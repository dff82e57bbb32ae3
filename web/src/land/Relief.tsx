import { OrbitControls } from "@react-three/drei";
import { Canvas, useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { DoubleSide, LinearFilter, SRGBColorSpace } from "three";
import { sizeOf, type Picture } from "../live/picture";
import { changeView, useView } from "../studio/view";
import { reliefGeometry } from "./reliefGeometry";
import { useLandCanvas } from "./useLandCanvas";

/** Heights are drawn to scale. */
const EXAGGERATION = 1;

/** The land in three dimensions, under light that the service baked. */
export function Relief({ picture }: { picture: Picture }) {
  return (
    <Canvas
      frameloop="demand"
      dpr={1}
      flat
      camera={{ position: [-0.22, 0.66, 1.0], fov: 32, near: 0.01, far: 10 }}
      gl={{ antialias: true, powerPreference: "low-power" }}
      data-testid="relief"
    >
      <Block picture={picture} />
      <OrbitControls
        makeDefault
        enableDamping={false}
        target={[0, 0, 0.02]}
        minDistance={0.08}
        maxDistance={2.5}
        maxPolarAngle={Math.PI / 2 - 0.02}
      />
    </Canvas>
  );
}

function Block({ picture }: { picture: Picture }) {
  const { canvas, drawn } = useLandCanvas(picture);
  const invalidate = useThree((state) => state.invalidate);
  const geometry = useMemo(() => reliefGeometry(picture, EXAGGERATION), [picture]);
  useEffect(
    () => () => {
      geometry.land.dispose();
      geometry.sides.dispose();
    },
    [geometry],
  );
  useEffect(() => invalidate(), [drawn, geometry, invalidate]);

  const point = (event: ThreeEvent<PointerEvent>) => {
    const { width } = sizeOf(picture);
    const { x, z } = event.point;
    const depth = picture.header.rows * picture.header.cell_m;
    changeView({
      pointer: { x: (x + 0.5) * width, y: picture.header.north_m - (z * width + depth / 2) },
    });
  };
  return (
    <>
      <mesh
        geometry={geometry.land}
        onPointerMove={point}
        onPointerLeave={() => changeView({ pointer: null })}
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
      <PointerMark picture={picture} />
    </>
  );
}

/** The cursor: the same place in relief, plan and section. */
function PointerMark({ picture }: { picture: Picture }) {
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
      position={[pointer.x / width - 0.5, (height / width) * EXAGGERATION, z]}
      raycast={() => undefined}
    >
      <sphereGeometry args={[0.004, 12, 8]} />
      <meshBasicMaterial color="#ffffff" toneMapped={false} />
    </mesh>
  );
}
