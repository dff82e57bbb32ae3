import { Pencil } from "lucide-react";
import { changeView, useView } from "../studio/view";

export interface OutlinePoint {
  x_m: number;
  y_m: number;
}

interface Props {
  points: OutlinePoint[];
  onCommit: (points: OutlinePoint[]) => void;
}

/** A drawn outline: its corners are dragged, added and removed on the plan. */
export function OutlineField({ points, onCommit }: Props) {
  const editing = useView((view) => view.outline !== null);
  const toggle = () =>
    changeView(
      editing
        ? { outline: null, onOutline: null }
        : {
            projection: "plan",
            outline: points.map(({ x_m, y_m }) => ({ x: x_m, y: y_m })),
            onOutline: (outline) =>
              onCommit(outline.map(({ x, y }) => ({ x_m: Math.round(x), y_m: Math.round(y) }))),
          },
    );
  return (
    <div className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
      <span>Outline</span>
      <button
        type="button"
        className={`btn btn-xs ${editing ? "btn-primary" : ""}`}
        aria-pressed={editing}
        data-testid="edit-outline"
        onClick={toggle}
      >
        <Pencil size={13} /> {editing ? "Done" : `${points.length} corners: edit on the plan`}
      </button>
      {editing && (
        <p className="text-base-content/70 col-span-2">
          Drag a corner; click on an edge for a new one; double-click to remove one.
        </p>
      )}
    </div>
  );
}
