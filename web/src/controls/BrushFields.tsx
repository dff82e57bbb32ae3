import { Brush as BrushIcon, Eraser } from "lucide-react";
import { useCallback, useEffect, useState } from "react";
import type { Stroke } from "../api/types";
import { layDown, takeUp, useInHand, type Brush } from "../tools/tool";
import { BrushShape } from "./BrushShape";
import { StrokeCount } from "./StrokeCount";
import { useStrokes } from "./useStrokes";

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
  const [shape, setShape] = useState<Brush>(FIRST);
  const [erase, setErase] = useState(false);
  const held = useInHand("brush")?.of === of;
  const made = (way: Stroke["points"]) => ({ ...shape, erase, points: way });
  const stroke = useStrokes({ of, strokes, made, onPreview, onCommit });
  const change = useCallback(
    (to: Partial<Brush>) => setShape((shape) => ({ ...shape, ...to })),
    [],
  );
  // What is in hand is what is set.
  useEffect(() => {
    if (held) takeUp({ name: "brush", of, brush: shape, change, ...stroke });
  }, [held, of, shape, change, stroke]);
  const take = (rubs: boolean) => {
    if (held && erase === rubs) layDown();
    else takeUp({ name: "brush", of, brush: shape, change, ...stroke });
    setErase(rubs);
  };
  return (
    <div className="space-y-1">
      <div className="flex items-center gap-1 text-xs">
        <button
          type="button"
          className={`btn btn-xs ${held && !erase ? "btn-primary" : ""}`}
          aria-pressed={held && !erase}
          data-testid="paint"
          onClick={() => take(false)}
        >
          <BrushIcon size={13} /> Paint
        </button>
        <button
          type="button"
          className={`btn btn-xs ${held && erase ? "btn-primary" : ""}`}
          aria-pressed={held && erase}
          data-testid="erase"
          onClick={() => take(true)}
        >
          <Eraser size={13} /> Erase
        </button>
        <StrokeCount
          count={strokes.length}
          testId="strokes"
          className="text-right"
          onRemove={() => onCommit([])}
        />
      </div>
      {held && <BrushShape brush={shape} testId={of} onChange={change} />}
    </div>
  );
}
