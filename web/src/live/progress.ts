/** How far a piece of work is, and how much longer it takes. */
export interface Progress {
  cells: number;
  share: number;
  /** Whole seconds; none while it cannot be told, or when it is soon over. */
  secondsLeft: number | null;
}

/** Below this share of the work nothing can be told yet. */
const TELLS_FROM = 0.05;

/** Tells how long a piece of work still takes, from how fast it went so far. */
export class Estimator {
  private began = { work: "", share: 1, at: 0 };

  /** Of other work, or of less than before, it begins anew. */
  secondsLeft(work: string, share: number): number | null {
    const now = performance.now();
    if (this.began.work !== work || share < this.began.share) {
      this.began = { work, share, at: now };
    }
    const done = share - this.began.share;
    const seconds = (((now - this.began.at) / 1000) * (1 - share)) / done;
    return done >= TELLS_FROM && seconds >= 1 ? Math.ceil(seconds) : null;
  }
}

const growing = new Estimator();

/** How far growing on so many cells is. */
export function estimate(cells: number, share: number): Progress {
  return { cells, share, secondsLeft: growing.secondsLeft(String(cells), share) };
}
