/** How far a piece of work is, and how much longer it takes. */
export interface Progress {
  cells: number;
  share: number;
  /** Whole seconds; none while it cannot be told, or when it is soon over. */
  secondsLeft: number | null;
}

/** Below this share of the work nothing can be told yet. */
const TELLS_FROM = 0.05;

let began = { cells: 0, share: 1, at: 0 };

/** From how fast it went so far; other cells, or less than before, are another piece of work. */
export function estimate(cells: number, share: number): Progress {
  const now = performance.now();
  if (began.cells !== cells || share < began.share) began = { cells, share, at: now };
  const done = share - began.share;
  const seconds = (((now - began.at) / 1000) * (1 - share)) / done;
  const told = done >= TELLS_FROM && seconds >= 1;
  return { cells, share, secondsLeft: told ? Math.ceil(seconds) : null };
}
