import { useEffect } from "react";
import type { HandStroke } from "../api/types";
import { useSession } from "../live/session";
import { layDown, takeUp, useInHand } from "../tools/tool";
import { BrushShape } from "./BrushShape";
import { DEEDS } from "./deeds";
import { changeHandBrush, deedNamed, handStroke, useHandBrush } from "./handBrush";
import { HandLimits } from "./HandLimits";
import { NumberField } from "./NumberField";
import { StrokeCount } from "./StrokeCount";
import { useStrokes } from "./useStrokes";

interface Props {
  /** By which it is told from others. */
  of: string;
  strokes: HandStroke[];
  onPreview: (strokes: HandStroke[]) => void;
  onCommit: (strokes: HandStroke[]) => void;
}

/** A brush is so wide at first, as a share of the land. */
const FIRST_SIZE = 0.06;

/** Brushes for work on the land by hand. */
export function HandWorkFields({ of, strokes, onPreview, onCommit }: Props) {
  const hand = useHandBrush();
  const extent = useSession((state) => (state.draft ?? state.head?.recipe)?.extent);
  const longest = extent ? Math.max(extent.width_m, extent.depth_m) : 10_000;
  const held = useInHand("brush")?.of === of;
  const stroke = useStrokes({ of, strokes, made: handStroke, onPreview, onCommit });
  const { size_m, strength, softness } = hand;
  useEffect(() => {
    if (size_m === 0) changeHandBrush({ size_m: Number((FIRST_SIZE * longest).toPrecision(1)) });
  }, [size_m, longest]);
  // What is in hand is what is set.
  useEffect(() => {
    if (!held) return;
    const brush = { size_m, strength, softness };
    takeUp({ name: "brush", of, brush, change: changeHandBrush, ...stroke });
  }, [held, of, size_m, strength, softness, stroke]);
  const take = (deed: string) => {
    if (held && hand.deed === deed) {
      layDown();
      return;
    }
    changeHandBrush({ deed });
    const brush = { size_m, strength, softness };
    takeUp({ name: "brush", of, brush, change: changeHandBrush, ...stroke });
  };
  const deed = deedNamed(hand.deed);
  return (
    <div className="space-y-1.5 text-xs">
      <div className="grid grid-cols-3 gap-1" role="group" aria-label="What a stroke does">
        {DEEDS.map(({ name, label, hint }) => (
          <button
            key={name}
            type="button"
            className={`btn btn-xs px-1 ${held && hand.deed === name ? "btn-primary" : ""}`}
            aria-pressed={held && hand.deed === name}
            title={hint}
            data-testid={`deed-${name}`}
            onClick={() => take(name)}
          >
            {label}
          </button>
        ))}
      </div>
      <div className="flex items-center gap-1">
        <StrokeCount
          count={strokes.length}
          testId="hand-strokes"
          more={held ? ". Drag on the land" : ". Choose what a stroke does"}
          onRemove={() => onCommit([])}
        />
      </div>
      {held && (
        <>
          <BrushShape
            brush={{ size_m, strength, softness }}
            testId="hand"
            onChange={changeHandBrush}
          />
          {deed.numbers.map(({ name, label, unit, slider, first }) => (
            <NumberField
              key={name}
              {...{ label, unit, slider }}
              log
              min={0}
              testId={`hand.${name}`}
              value={hand.said[name] ?? first(size_m)}
              onPreview={(value) => changeHandBrush({ said: { ...hand.said, [name]: value } })}
              onCommit={(value) => changeHandBrush({ said: { ...hand.said, [name]: value } })}
            />
          ))}
          <HandLimits deed={deed.name} />
        </>
      )}
    </div>
  );
}
