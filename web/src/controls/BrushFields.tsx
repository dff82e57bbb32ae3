import { Brush, Eraser, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Stroke } from "../api/types";
import { changeView, useView } from "../studio/view";
import { NumberField } from "./NumberField";

interface Props {
  strokes: Stroke[];
  onPreview: (strokes: Stroke[]) => void;
  onCommit: (strokes: Stroke[]) => void;
}

/** A brush for painting a mask on the land or on the plan. */
export function BrushFields({ strokes, onPreview, onCommit }: Props) {
  const brush = useView((view) => view.brush);
  // The strokes before the one being drawn, which shows on the land meanwhile.
  const before = useRef<Stroke[] | null>(null);
  useEffect(() => {
    if (!useView.getState().brush) return;
    changeView({
      onStroke: (stroke, finished) => {
        before.current ??= strokes;
        const all = [...before.current, stroke];
        if (finished) before.current = null;
        (finished ? onCommit : onPreview)(all);
      },
    });
  }, [brush, strokes, onPreview, onCommit]);
  useEffect(() => () => changeView({ brush: null, onStroke: null }), []);
  const take = (erase: boolean) =>
    changeView({
      brush:
        brush?.erase === erase
          ? null
          : { ...(brush ?? { size_m: 600, strength: 0.8, softness: 0.6 }), erase },
    });
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
          <Brush size={13} /> Paint
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
        <span className="text-base-content/70 grow text-right" data-testid="strokes">
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
            onPreview={(size_m) => changeView({ brush: { ...brush, size_m } })}
            onCommit={(size_m) => changeView({ brush: { ...brush, size_m } })}
          />
          <NumberField
            label="Strength"
            slider={[0, 1]}
            value={brush.strength}
            onPreview={(strength) => changeView({ brush: { ...brush, strength } })}
            onCommit={(strength) => changeView({ brush: { ...brush, strength } })}
          />
          <NumberField
            label="Softness"
            slider={[0, 1]}
            value={brush.softness}
            onPreview={(softness) => changeView({ brush: { ...brush, softness } })}
            onCommit={(softness) => changeView({ brush: { ...brush, softness } })}
          />
        </>
      )}
    </div>
  );
}
