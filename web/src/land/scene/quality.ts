/**
 * How finely the land is drawn: 2 in full, 1 with materials but without the
 * work that hides their repeats, 0 without materials.
 *
 * What a frame of each kind takes is measured. While pictures follow each other
 * (the camera moves, a mask is hatched, a brush paints) the finest one is drawn
 * that keeps them fluent; once nothing has changed for a while, the finest one
 * that does not take too long; and when still nothing has changed, the full one,
 * however long it takes, but piece by piece, which holds nothing up.
 */
export type Quality = 0 | 1 | 2;

export const FULL: Quality = 2;

/** A patch of the land is split when the eye is nearer than so many of its sides:
 * more than √2, or neighbours could be two levels apart. */
export const SPLIT: Record<Quality, number> = { 0: 1.5, 1: 2.6, 2: 2.6 };

/** A frame may take so long while pictures follow each other, and at rest. */
const FLUENT_MS = 45;
const PATIENCE_MS = 700;
/** Without a change for so long the land is at rest. */
export const REST_MS = 500;
/** And then without a change for so long, it stays as it is. */
export const SETTLED_MS = 2000;
/** Pixels of the screen to one that is drawn where even coarse frames are slow. */
const COARSE = 0.6;
const SLOW_MS = 90;

/** What a frame took, by its quality; nothing is known at first. */
const took: [number, number, number] = [0, 0, 0];

/** A frame of the next finer kind takes at least so many times as long. */
const DEARER = 2.5;

/** The finest quality whose frames should take no longer than `most`: from one
 * kind to the next, so that a weak machine never meets the dearest unprepared. */
function finest(most: number): Quality {
  let quality: Quality = 0;
  for (const next of [1, 2] as const) {
    const known = took[quality];
    if (known === 0 || Math.max(took[next], DEARER * known) > most) break;
    quality = next;
  }
  return quality;
}

/** How finely to draw now. */
export function qualityFor(atRest: boolean): Quality {
  return finest(atRest ? PATIENCE_MS : FLUENT_MS);
}

/** Pixels of the screen to one that is drawn. */
export function pixelsFor(atRest: boolean): number {
  return !atRest && took[0] > SLOW_MS ? COARSE : 1;
}

/** Takes down what a frame took. */
export function tookFrame(quality: Quality, ms: number) {
  took[quality] = took[quality] === 0 ? ms : 0.6 * took[quality] + 0.4 * ms;
  // Slowly forgotten: a machine that was busy once is not slow for ever.
  for (const other of [1, 2] as const) {
    if (other > quality) took[other] *= 0.98;
  }
}
