import { Brush as BrushIcon, Eraser, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Stroke } from "../api/types";
import { inHand, layDown, takeUp, useInHand, type Brush } from "../tools/tool";
import { NumberField } from "./NumberField";

interface Props {
  /** By which it is told from others. */
  of: string;
  strokes: Stroke[];
  onPreview: (strokes: Stroke[]) => void;
  onCommit: (strokes: Stroke[]) => void;
}

const FIRST = { size_m: 600, strength: 0.8, softness: 0.6 };

/** A brush for painting a mask on the land or on the plan. */
export function BrushFields({ of, strokes, onPreview, onCommit }: Props) {
  const tool = useInHand("brush");
  const brush = tool?.of === of ? tool.brush : null;
  // The strokes before the one being drawn, which shows on the land meanwhile.
  const before = useRef<Stroke[] | null>(null);
  const stroke = useRef<(stroke: Stroke, finished: boolean) => void>(() => undefined);
  useEffect(() => {
    stroke.current = (stroke, finished) => {
      before.current ??= strokes;
      const all = [...before.current, stroke];
      if (finished) before.current = null;
      (finished ? onCommit : onPreview)(all);
    };
  }, [strokes, onPreview, onCommit]);
  useEffect(
    () => () => {
      if (inHand("brush")?.of === of) layDown();
    },
    [of],
  );
  const hold = (brush: Brush) =>
    takeUp({ name: "brush", of, brush, stroke: (...drawn) => stroke.current(...drawn) });
  const take = (erase: boolean) =>
    brush?.erase === erase ? layDown() : hold({ ...(brush ?? FIRST), erase });
  return (
    <div className="space-y-1">
      <div className="flex items-center gap-1 text-xs">
        <button
          type="button"
          className={`btn btn-xs ${brush && !brush.erase ? "btn-primary" : ""}`}
          aria-pressed={brush !== null && !brush.erase}
          data-testid="paint"
          onClick={() => take(false)}
        >
          <BrushIcon size={13} /> Paint
        </button>
        <button
          type="button"
          className={`btn btn-xs ${brush?.erase ? "btn-primary" : ""}`}
          aria-pressed={brush?.erase ?? false}
          data-testid="erase"
          onClick={() => take(true)}
        >
          <Eraser size={13} /> Erase
        </button>
        <span className="text-base-content/80 grow text-right" data-testid="strokes">
          {strokes.length} {strokes.length === 1 ? "stroke" : "strokes"}
        </span>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Remove all strokes"
          disabled={strokes.length === 0}
          onClick={() => onCommit([])}
        >
          <Trash2 size={13} />
        </button>
      </div>
      {brush && (
        <>
          <NumberField
            label="Size"
            unit="m"
            slider={[20, 4000]}
            log
            value={brush.size_m}
            onPreview={(size_m) => hold({ ...brush, size_m })}
            onCommit={(size_m) => hold({ ...brush, size_m })}
          />
          <NumberField
            label="Strength"
            slider={[0, 1]}
            value={brush.strength}
            onPreview={(strength) => hold({ ...brush, strength })}
            onCommit={(strength) => hold({ ...brush, strength })}
          />
          <NumberField
            label="Softness"
            slider={[0, 1]}
            value={brush.softness}
            onPreview={(softness) => hold({ ...brush, softness })}
            onCommit={(softness) => hold({ ...brush, softness })}
          />
        </>
      )}
    </div>
  );
}
