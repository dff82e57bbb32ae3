import { useEffect } from "react";
import { isKey } from "./isKey";
import { keysOf, SHORTCUTS, STRENGTHS } from "./shortcuts";

/** Kinds of fields in which keys write. */
const WRITES =
  "textarea, select, [contenteditable], input:not([type=checkbox], [type=radio], [type=range], [type=color], [type=file], [type=button])";

/** Whether a key is for what has the focus: all where one writes; of a slider those with a
 * name, such as Home. */
const isWriting = ({ target, key }: KeyboardEvent) =>
  target instanceof HTMLElement &&
  (target.closest(WRITES) !== null || (key.length > 1 && target.matches("[type=range]")));

/** Listens to the keys of the studio. */
export function useKeys() {
  useEffect(() => {
    const meant = (event: KeyboardEvent) =>
      [...STRENGTHS, ...SHORTCUTS].find(
        (shortcut) =>
          (shortcut.everywhere || !isWriting(event)) &&
          (shortcut.when?.() ?? true) &&
          keysOf(shortcut).some((keys) => isKey(event, keys)),
      );
    const onDown = (event: KeyboardEvent) => {
      const shortcut = meant(event);
      // What is over the page has the keys to itself.
      if (!shortcut || document.querySelector("dialog[open]")) return;
      // A letter that opens a search must not be typed into it.
      if (!shortcut.everywhere) event.preventDefault();
      if (!event.repeat || !shortcut.end) shortcut.run();
    };
    const onUp = (event: KeyboardEvent) => meant(event)?.end?.();
    window.addEventListener("keydown", onDown);
    window.addEventListener("keyup", onUp);
    return () => {
      window.removeEventListener("keydown", onDown);
      window.removeEventListener("keyup", onUp);
    };
  }, []);
}
