import { useEffect, useRef, useState } from "react";
import { useSession } from "../live/session";
import { described } from "../live/picture";

/** Says what changed to those who do not see it. */
export function Announcer() {
  const head = useSession((state) => state.head);
  const now = useSession((state) => state.now);
  const [said, setSaid] = useState("");
  const last = useRef<number | null>(null);
  useEffect(() => {
    if (!head) return;
    const first = last.current === null;
    const back = !first && head.revision < (last.current ?? 0);
    last.current = head.revision;
    if (first) return;
    setSaid(
      back ? `Undone. Revision ${head.revision}.` : (head.undo ?? `Revision ${head.revision}.`),
    );
  }, [head]);
  const complete = now?.header.complete && !now.header.preview;
  return (
    <div className="sr-only" aria-live="polite" data-testid="announcer">
      <p>{said}</p>
      <p>{complete && now && now.header.revision === head?.revision ? described(now) : ""}</p>
    </div>
  );
}
