import { useEffect, useMemo, useRef } from "react";
import { endPreview } from "../live/edit";
import { inHand, layDown, type Way } from "../tools/tool";

interface Strokes<S> {
  /** By which the brush is told from others. */
  of: string;
  strokes: S[];
  /** The stroke along a way, as it is set. */
  made: (way: Way) => S;
  onPreview: (strokes: S[]) => void;
  onCommit: (strokes: S[]) => void;
}

/** What a brush in hand does with its strokes: each is shown while it is drawn, and added to
 * the others when it is done. The brush is laid down with what it belongs to. */
export function useStrokes<S>(now: Strokes<S>) {
  const { of } = now;
  // The strokes before the one being drawn, which shows on the land meanwhile.
  const before = useRef<S[] | null>(null);
  const latest = useRef(now);
  useEffect(() => {
    latest.current = now;
  });
  useEffect(
    () => () => {
      if (inHand("brush")?.of !== of) return;
      // What is under way first, and then the brush.
      if (layDown() && inHand("brush")?.of === of) layDown();
    },
    [of],
  );
  return useMemo(
    () => ({
      stroke: (way: Way, finished: boolean) => {
        const { strokes, made, onPreview, onCommit } = latest.current;
        before.current ??= strokes;
        const all = [...before.current, made(way)];
        if (finished) before.current = null;
        (finished ? onCommit : onPreview)(all);
      },
      giveUp: () => {
        before.current = null;
        endPreview();
      },
    }),
    [],
  );
}
