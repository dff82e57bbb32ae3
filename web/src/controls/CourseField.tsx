import { Pencil } from "lucide-react";
import { changeView, type Place } from "../studio/view";
import { layDown, takeUp, useInHand } from "../tools/tool";

interface Props {
  /** By which it is told from others. */
  of: string;
  label: string;
  points: Place[];
  closed: boolean;
  onCommit: (points: Place[]) => void;
}

/** A drawn course or outline: its corners are moved, added and removed on the plan. */
export function CourseField({ of, label, points, closed, onCommit }: Props) {
  const editing = useInHand("course")?.of === of;
  const toggle = () => {
    if (editing) return layDown();
    changeView({ projection: "plan" });
    const change = (next: Place[]) =>
      onCommit(next.map(({ x, y }) => ({ x: Math.round(x), y: Math.round(y) })));
    takeUp({ name: "course", of, points, closed, change });
  };
  return (
    <div className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
      <span>{label}</span>
      <button
        type="button"
        className={`btn btn-xs ${editing ? "btn-primary" : ""}`}
        aria-pressed={editing}
        data-testid={closed ? "edit-outline" : `${of}.edit-line`}
        onClick={toggle}
      >
        <Pencil size={13} /> {editing ? "Done" : `${points.length} corners: edit on the plan`}
      </button>
      {editing && (
        <p className="text-base-content/80 col-span-2">
          Drag a corner; click on an edge for a new one; double-click to remove one. With keys: Tab
          to a corner, arrows, Insert and Delete.
        </p>
      )}
    </div>
  );
}
