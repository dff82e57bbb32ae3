import { KNEE } from "../../../api/shading";
import { float } from "./glsl";

/** From light to the screen: what the service does to colours, and back. */
export const TONES = /* glsl */ `
const float KNEE = ${float(KNEE)};

vec3 shoulder(vec3 light) {
  vec3 over = max(light - KNEE, 0.0);
  return min(light, vec3(KNEE)) + (1.0 - KNEE) * (1.0 - exp(-over / (1.0 - KNEE)));
}

vec3 unshouldered(vec3 shown) {
  vec3 over = clamp((shown - KNEE) / (1.0 - KNEE), 0.0, 0.985);
  return min(shown, vec3(KNEE)) - (1.0 - KNEE) * log(1.0 - over);
}

vec3 linear(vec3 shown) {
  vec3 low = shown / 12.92;
  vec3 high = pow((shown + 0.055) / 1.055, vec3(2.4));
  return mix(high, low, vec3(lessThanEqual(shown, vec3(0.04045))));
}

vec3 srgb(vec3 light) {
  vec3 low = light * 12.92;
  vec3 high = 1.055 * pow(max(light, 0.0), vec3(1.0 / 2.4)) - 0.055;
  return mix(high, low, vec3(lessThan(light, vec3(0.0031308))));
}
`;
