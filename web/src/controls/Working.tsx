import { useEffect, useState } from "react";

/** Shorter waits say nothing of their length, and cannot be stopped in time. */
const SHORT_S = 2;

interface Props {
  /** What is being done. */
  what: string;
  /** Stops it, when it can be stopped. */
  onStop?: () => void;
}

/** Says that something is being done; when it takes longer, how long it has taken, and how it
 * is stopped. */
export function Working({ what, onStop }: Props) {
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSeconds((before) => before + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  return (
    <span className="flex items-center gap-2 text-xs" role="status">
      <span className="loading loading-dots loading-xs" aria-hidden />
      {what} …{seconds >= SHORT_S && ` ${seconds} s`}
      {onStop && seconds >= SHORT_S && (
        <button type="button" className="btn btn-xs" data-testid="stop-working" onClick={onStop}>
          Stop
        </button>
      )}
    </span>
  );
}
