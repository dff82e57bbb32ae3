import type { ShaderMaterial } from "three";

/** Sets what a shader is given, whether it was given before or not. */
export function setUniforms(material: ShaderMaterial, values: Record<string, unknown>) {
  for (const [name, value] of Object.entries(values)) {
    const known = material.uniforms[name];
    if (known) known.value = value;
    else material.uniforms[name] = { value };
  }
  material.uniformsNeedUpdate = true;
}
