import { AIR } from "./air";
import { TONES } from "./tones";

/** Water beyond the border of the land, out to where the air swallows it. */
export const seaVertex = /* glsl */ `
out vec3 vPlace;
void main() {
  vPlace = (modelMatrix * vec4(position, 1.0)).xyz;
  gl_Position = projectionMatrix * viewMatrix * vec4(vPlace, 1.0);
}
`;

export const seaFragment = /* glsl */ `
precision highp float;
in vec3 vPlace;
out vec4 shown;
${AIR}
${TONES}
void main() {
  vec3 way = vPlace - cameraPosition;
  float far = length(way);
  way /= far;
  vec3 off = vec3(way.x, abs(way.y), way.z);
  // Schlick (1994) for water: 2 % straight down.
  float bare = 1.0 - clamp(abs(way.y), 0.0, 1.0);
  float mirrored = 0.02 + 0.98 * bare * bare * bare * bare * bare;
  vec3 light = mix(vec3(0.03, 0.085, 0.1), skyColour(normalize(off)), 0.85 * mirrored);
  vec3 lost = leftOver(far, cameraPosition.y, vPlace.y);
  vec3 back = skyColour(normalize(vec3(way.x, max(way.y, 0.02), way.z)));
  // Without haze it ends in the sky as well, only farther out.
  float end = smoothstep(6.0, 24.0, far);
  light = mix(light * lost + back * (1.0 - lost), back, end);
  shown = vec4(srgb(shoulder(light)), 1.0);
}
`;
