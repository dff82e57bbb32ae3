import { changeView } from "./view";

/** So long a new part may take to be drawn. */
const PATIENCE_MS = 2000;

/** Opens a step or a ground that was just added, and goes on working there with keys. */
export function openAndFocus(id: string | undefined) {
  if (!id) return;
  changeView({ openBand: id });
  focusSoon(`[data-testid="open-${CSS.escape(id)}"]`);
}

/** Gives the focus to what will be drawn soon. */
function focusSoon(selector: string) {
  const until = performance.now() + PATIENCE_MS;
  const look = () => {
    const found = document.querySelector<HTMLElement>(selector);
    if (found) {
      found.focus();
      found.scrollIntoView({ block: "nearest" });
    } else if (performance.now() < until) requestAnimationFrame(look);
  };
  // A dialog that closes gives the focus back first.
  requestAnimationFrame(look);
}
