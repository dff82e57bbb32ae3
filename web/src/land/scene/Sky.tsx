import { useFrame } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { GLSL3, Matrix4, PlaneGeometry, ShaderMaterial } from "three";
import { useAir } from "./air";
import { skyFragment, skyVertex } from "./shaders/sky";
import { setUniforms } from "./uniforms";

/** Parts of the screen, across and down, between which the sky is interpolated. */
const GRAIN = [48, 32] as const;

/** The sky behind everything, of the light that haze throws back. */
export function Sky() {
  const air = useAir();
  const geometry = useMemo(() => new PlaneGeometry(2, 2, ...GRAIN), []);
  const material = useMemo(
    () =>
      new ShaderMaterial({
        glslVersion: GLSL3,
        vertexShader: skyVertex,
        fragmentShader: skyFragment,
        uniforms: { unproject: { value: new Matrix4() } },
        depthWrite: false,
      }),
    [],
  );
  useEffect(() => {
    setUniforms(material, { ...air });
  }, [air, material]);
  useEffect(
    () => () => {
      geometry.dispose();
      material.dispose();
    },
    [geometry, material],
  );
  useFrame(({ camera }) => {
    const { matrixWorld, projectionMatrixInverse } = camera;
    setUniforms(material, {
      unproject: new Matrix4().multiplyMatrices(matrixWorld, projectionMatrixInverse),
    });
  });
  return (
    <mesh
      {...{ geometry, material }}
      frustumCulled={false}
      renderOrder={-1}
      raycast={() => undefined}
    />
  );
}
