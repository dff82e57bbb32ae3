import { AIR } from "./air";
import { TONES } from "./tones";

export const skyVertex = /* glsl */ `
uniform mat4 unproject;
out vec3 vShown;
${AIR}
${TONES}
void main() {
  vec4 far = unproject * vec4(position.xy, 1.0, 1.0);
  vec3 way = normalize(far.xyz / far.w - cameraPosition);
  vShown = srgb(shoulder(skyColour(way)));
  gl_Position = vec4(position.xy, 0.999999, 1.0);
}
`;

export const skyFragment = /* glsl */ `
precision highp float;
in vec3 vShown;
out vec4 shown;
void main() {
  shown = vec4(vShown, 1.0);
}
`;
