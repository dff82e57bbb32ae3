/** Light through the air: what the sky looks like, and what haze throws back. */
export const AIR = /* glsl */ `
uniform vec3 sunward;
uniform float haze;

vec3 skyColour(vec3 way) {
  float up = max(way.y, 0.0);
  float sun = max(dot(way, sunward), 0.0);
  float low = 1.0 - sunward.y;
  vec3 zenith = vec3(0.10, 0.22, 0.44);
  vec3 horizon = mix(vec3(0.52, 0.62, 0.72), vec3(0.72, 0.62, 0.52), low * low * 0.6 * (0.3 + 0.7 * sun));
  vec3 sky = mix(horizon, zenith, sqrt(up));
  // Around the sun.
  float wide = sun * sun * sun * sun;
  return sky + vec3(1.0, 0.86, 0.66) * (0.22 * wide * wide + 0.5 * exp2(-320.0 * (1.0 - sun)));
}

/** What is left of light after its way through the air. */
vec3 leftOver(float far, float eye, float there) {
  // Thinner the higher one looks: the mean of e^(−7 y) over the way.
  float low = exp(-7.0 * max(there, 0.0)), high = exp(-7.0 * max(eye, 0.0));
  float climb = 7.0 * (eye - there);
  float thin = abs(climb) > 1e-3 ? (low - high) / climb : low;
  return exp(-haze * far * thin * vec3(0.85, 1.0, 1.25));
}
`;
