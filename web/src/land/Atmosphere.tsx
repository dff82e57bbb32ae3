import { PerspectiveCamera } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { MathUtils, PerspectiveCamera as Camera } from "three";
import { useView } from "../studio/view";

/** Light that haze throws back, and the sky above it. */
const HAZE = "#c3d0d9";
export const SKY = "linear-gradient(#7fa3c4 0%, #b5cad9 45%, #d5dfe4 70%)";
/** Haze to one width of the land: hills at its far side lose about a third. */
const DENSITY = 0.4;
/** Width of the sensor that lenses are named for, millimetres. */
const SENSOR_MM = 36;
/** Nearest that is drawn, in widths of the land: from the air, and standing. */
const NEAR = { air: 0.01, ground: 0.0004 };

/** Haze that grows with distance. */
export function Haze() {
  const haze = useView((view) => view.haze);
  const invalidate = useThree((state) => state.invalidate);
  useEffect(() => invalidate(), [haze, invalidate]);
  return haze ? <fogExp2 attach="fog" args={[HAZE, DENSITY]} /> : null;
}

/** A camera with a lens of so many millimetres. */
export function LensCamera({ at }: { at: number[] }) {
  const lens_mm = useView((view) => view.lens_mm);
  const standing = useView((view) => view.standing);
  const aspect = useThree((state) => state.size.width / state.size.height);
  const camera = useThree((state) => state.camera);
  const invalidate = useThree((state) => state.invalidate);
  const across = SENSOR_MM / 2 / lens_mm;
  const fov = 2 * MathUtils.radToDeg(Math.atan(across / aspect));
  useEffect(() => {
    if (camera instanceof Camera) camera.updateProjectionMatrix();
    invalidate();
  }, [camera, fov, standing, invalidate]);
  return (
    <PerspectiveCamera
      makeDefault
      position={[at[0] ?? 0, at[1] ?? 1, at[2] ?? 1]}
      fov={fov}
      near={standing ? NEAR.ground : NEAR.air}
      far={10}
    />
  );
}
