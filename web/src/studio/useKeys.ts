import { useHotkeys } from "react-hotkeys-hook";
import { redo, undo } from "../live/edit";
import { changeView, useView, type Stage } from "./view";

/** Every key of the studio, for the help sheet too. */
export const KEYS: [string, string][] = [
  ["Ctrl + Z", "Undo"],
  ["Ctrl + Shift + Z, Ctrl + Y", "Redo"],
  ["B, held", "See the land before the last edit"],
  ["V", "Change between relief and plan"],
  ["F", "Form only, without the ground’s colours"],
  ["1, 2, 3", "Stage Form, Ground, Deliver"],
  ["Up, Down in a field", "A little more or less; with Shift in larger steps"],
  ["Esc", "Stop showing a mask; close a sheet"],
  ["?", "This sheet"],
];

const STAGES: Stage[] = ["form", "ground", "deliver"];

export function useKeys() {
  useHotkeys("mod+z", () => void undo(), { preventDefault: true });
  useHotkeys("mod+shift+z, mod+y", () => void redo(), { preventDefault: true });
  useHotkeys("b", () => changeView({ showBefore: true }), { keydown: true });
  useHotkeys("b", () => changeView({ showBefore: false }), { keyup: true, keydown: false });
  useHotkeys("v", () => {
    const { projection } = useView.getState();
    changeView({ projection: projection === "relief" ? "plan" : "relief" });
  });
  useHotkeys("f", () => changeView({ greyForm: !useView.getState().greyForm }));
  useHotkeys("1, 2, 3", (event) => {
    const stage = STAGES[Number(event.key) - 1];
    if (stage) changeView({ stage });
  });
  useHotkeys("esc", () => changeView({ watched: null, help: false }));
  useHotkeys("shift+slash, ?", () => changeView({ help: true }));
}
