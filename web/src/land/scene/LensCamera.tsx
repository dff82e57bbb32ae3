import { PerspectiveCamera } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { MathUtils, PerspectiveCamera as Camera } from "three";
import { useView } from "../../studio/view";
import { SENSOR_MM } from "../framing";

/** Nearest that is drawn, in widths of the land: from the air, and standing. */
const NEAR = { air: 0.003, ground: 0.000_03 };

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
      far={standing ? 4 : 10}
    />
  );
}
