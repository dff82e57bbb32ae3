import { STRIPES } from "../../hatch";
import { AIR } from "./air";
import { CLOSE_UP } from "./closeUp";
import { TONES } from "./tones";

/** Most covers whose materials are shown close up: as many as a recipe may have. */
export const MOST_COVERS = 32;

export const landVertex = /* glsl */ `
in vec3 coarse;
in vec3 shape;
in vec2 morph;
uniform vec2 cells;
uniform float above;
out vec2 vCell;
out vec3 vPlace;
out vec3 vNormal;
out float vWall;
out vec3 vLost;
out vec3 vBack;
${AIR}

void main() {
  // As the level of detail counts it: see quadtree.ts.
  float far = length(vec3(position.x - cameraPosition.x, above, position.z - cameraPosition.z));
  float part = clamp((far - morph.x) / (morph.y - morph.x), 0.0, 1.0);
  vPlace = mix(position, coarse, part);
  vNormal = vec3(shape.x, sqrt(max(0.0, 1.0 - dot(shape.xy, shape.xy))), shape.y);
  vWall = shape.z;
  // Place on the land, in widths of it, as column and row between cell centres.
  vCell = vec2(vPlace.x + 0.5, vPlace.z + 0.5 * cells.y / cells.x) * cells.x - 0.5;
  vec3 way = vPlace - cameraPosition;
  vLost = leftOver(length(way), cameraPosition.y, vPlace.y);
  vBack = skyColour(normalize(vec3(way.x, max(way.y, 0.02 * length(way)), way.z)));
  gl_Position = projectionMatrix * viewMatrix * vec4(vPlace, 1.0);
}
`;

export const landFragment = /* glsl */ `
precision highp float;
precision highp sampler2DArray;
in vec2 vCell;
in vec3 vPlace;
in vec3 vNormal;
in float vWall;
in vec3 vLost;
in vec3 vBack;
out vec4 shown;
uniform vec3 stone;
uniform sampler2D map;
uniform highp usampler2D ground;
uniform sampler2D sunlit;
uniform sampler2DArray grain;
uniform sampler2DArray surfaces;
uniform int covers;
uniform vec4 lay[${MOST_COVERS}];
uniform vec3 habit[${MOST_COVERS}];
uniform vec3 colours[${MOST_COVERS}];
uniform float metres;
uniform float pixel;
uniform float side;
uniform vec2 reach;
uniform highp sampler2D heights;
uniform vec2 cells;
uniform float sea;
uniform float rise;
uniform sampler2D mask;
uniform vec3 accent;
uniform float stripe;
uniform float phase;
${AIR}
${TONES}

#if QUALITY > 0
${CLOSE_UP}
/** Height of small waves, by noise that is smooth and cheap. */
float ripple(vec2 p) {
  return sin(p.x * 0.9 + 1.7 * sin(p.y * 0.31)) + sin(p.y * 1.1 + 1.3 * sin(p.x * 0.47 + 2.0))
    + 0.5 * sin(dot(p, vec2(1.9, 1.3)) + 2.0 * sin(p.x * 0.7));
}

#endif

/** The cut sides: rock in beds of uneven thickness, and the water that stands on it. */
vec3 cutSide(float depth) {
  if (depth > 0.0 && vPlace.y > (sea - depth) * rise) return vec3(0.03, 0.085, 0.1);
  float h = vPlace.y * metres / 46.0;
  float bed = floor(h + 0.35 * sin(h * 0.9) + 0.25 * sin(h * 2.3 + 1.0));
  return stone * (0.86 + 0.28 * fract(sin(bed * 12.9898) * 43758.5453));
}

/** The watched mask, as stripes over what is shown. */
vec3 hatched(vec3 colour, vec2 uv) {
  float share = vWall > 0.0 ? 0.0 : texture(mask, uv).r;
  float across = mod((vCell.x + vCell.y) / stripe + phase, ${STRIPES.pitch.toFixed(1)});
  return mix(colour, accent, across < ${STRIPES.width.toFixed(1)} && share > 0.02 ? share : 0.0);
}

void main() {
  vec2 uv = (vCell + 0.5) / cells;
  vec3 painted = texture(map, vec2(uv.x, 1.0 - uv.y)).rgb;
  ivec2 cell = ivec2(floor(vCell + 0.5));
  float depth = sea - texelFetch(heights, clamp(cell, ivec2(0), ivec2(cells) - 1), 0).r;
  bool water = depth > 0.0 && vPlace.y <= sea * rise + 1e-6;
#if QUALITY == 0
  // In a hurry: haze is mixed as it is shown, not as light.
  vec3 bare = vWall > 0.0 ? sqrt(cutSide(depth)) : painted;
  float thick = haze > 0.0 ? 1.0 - vLost.g : 0.0;
  // Water mirrors the more of the sky the flatter one looks.
  vec3 down = normalize(vPlace - cameraPosition);
  float flatness = 1.0 + min(down.y, 0.0);
  if (water) bare = mix(bare, vec3(0.66, 0.73, 0.8), 0.8 * flatness * flatness * flatness);
  shown = vec4(hatched(mix(bare, sqrt(vBack), thick), uv), 1.0);
#else
  vec3 light = unshouldered(linear(painted));
  vec3 way = vPlace - cameraPosition;
  float far = length(way);
  way /= far;
  vec3 n = normalize(vNormal);
  if (vWall > 0.0) {
    light = cutSide(depth);
  } else if (water) {
    // Water: what is below, and the sky on it.
    vec2 p = vPlace.xz * metres;
    float near = exp(-far * metres / 500.0);
    vec3 up = vec3(0.0, 1.0, 0.0);
    if (near > 0.02) {
      float e = 0.35;
      float here = ripple(p);
      vec2 slope = vec2(ripple(p + vec2(e, 0.0)) - here, ripple(p + vec2(0.0, e)) - here) / e;
      up = normalize(vec3(-slope.x * 0.035 * near, 1.0, -slope.y * 0.035 * near));
    }
    vec3 off = reflect(way, up);
    off.y = abs(off.y);
    // Schlick (1994) for water: 2 % straight down.
    float bare = 1.0 - clamp(dot(-way, up), 0.0, 1.0);
    float mirrored = 0.02 + 0.98 * bare * bare * bare * bare * bare;
    light = mix(light, skyColour(normalize(off)), 0.85 * mirrored);
  } else if (covers > 0 && far < reach.y) {
    vec3 colour, facing;
    float open;
    groundHere(n, far, colour, facing, open);
    float lit = texture(sunlit, uv).r;
    float before = max(dot(n, sunward), 0.05);
    float sun = lit * clamp(dot(facing, sunward) / before, 0.0, 3.0);
    float shading = (SKY * mix(1.0, open, 0.7) + sun) / (SKY + lit);
    vec3 close = colour * shading;
    light *= mix(close, vec3(1.0), smoothstep(reach.x, reach.y, far));
  }
  if (haze > 0.0) light = light * vLost + vBack * (1.0 - vLost);
  shown = vec4(hatched(srgb(shoulder(light)), uv), 1.0);
#endif
}
`;
