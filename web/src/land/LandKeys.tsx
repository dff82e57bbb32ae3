import type { ReactNode } from "react";
import type { Picture } from "../live/picture";
import { useView } from "../studio/view";
import { landKeys, leaveLand, spokenPlace } from "./landKeys";

/** The land as something that has the focus and does by keys what it does by pointer. */
export function LandKeys({ picture, children }: { picture: Picture; children: ReactNode }) {
  const pointer = useView((view) => view.pointer);
  return (
    <div
      className="h-full -outline-offset-2"
      // It is neither a document nor a list: all keys are its own.
      role="application"
      tabIndex={0}
      aria-label="The land. Arrows move the cursor, Enter clicks, Space presses and lets go, Alt with arrows flies"
      data-land-keys
      onKeyDown={(event) => landKeys(picture, event)}
      onBlur={leaveLand}
    >
      {children}
      <span className="sr-only" aria-live="polite" data-testid="cursor-place">
        {pointer ? spokenPlace(picture, pointer) : ""}
      </span>
    </div>
  );
}
