import { Trash2 } from "lucide-react";

interface Props {
  count: number;
  testId: string;
  /** What to do, after how many there are. */
  more?: string;
  className?: string;
  onRemove: () => void;
}

/** How many strokes there are, and the way to have none. */
export function StrokeCount({ count, testId, more = "", className = "", onRemove }: Props) {
  return (
    <>
      <span className={`text-base-content/80 grow ${className}`} data-testid={testId}>
        {count} {count === 1 ? "stroke" : "strokes"}
        {more}
      </span>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label="Remove all strokes"
        disabled={count === 0}
        onClick={onRemove}
      >
        <Trash2 size={13} />
      </button>
    </>
  );
}
