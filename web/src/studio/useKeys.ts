import { useHotkeys } from "react-hotkeys-hook";
import { redo, undo } from "../live/edit";
import { changeView, useView, type Bench, type Stage } from "./view";

/** Every key of the studio, for the help sheet too. */
export const KEYS: [string, string][] = [
  ["Ctrl + Z", "Undo"],
  ["Ctrl + Shift + Z, Ctrl + Y", "Redo"],
  ["B, held", "See the land before the last edit"],
  ["V", "Change between relief and plan"],
  ["L", "The land alone, over the whole window"],
  ["F", "Form only, without the ground’s colours"],
  ["C", "Contour lines"],
  ["W", "Flow lines: where water runs"],
  ["N", "Add a step"],
  ["S, M", "Survey; moments"],
  ["1, 2, 3", "Stage Form, Ground, Deliver"],
  ["Arrows, standing on the land", "Walk 6 m or turn; with Shift walk 60 m"],
  ["Up, Down in a field", "A little more or less; with Shift in larger steps"],
  ["Esc", "Stop showing a mask, one step or the land alone; close a sheet"],
  ["?", "This sheet"],
];

const STAGES: Stage[] = ["form", "ground", "deliver"];

function toggleBench(bench: Bench) {
  changeView({ bench: useView.getState().bench === bench ? null : bench });
}

export function useKeys() {
  useHotkeys("mod+z", () => void undo(), { preventDefault: true });
  useHotkeys("mod+shift+z, mod+y", () => void redo(), { preventDefault: true });
  useHotkeys("b", () => changeView({ showBefore: true }), { keydown: true });
  useHotkeys("b", () => changeView({ showBefore: false }), { keyup: true, keydown: false });
  useHotkeys("v", () => {
    const { projection } = useView.getState();
    changeView({ projection: projection === "relief" ? "plan" : "relief" });
  });
  useHotkeys("l", () => changeView({ alone: !useView.getState().alone }));
  useHotkeys("f", () => changeView({ greyForm: !useView.getState().greyForm }));
  useHotkeys("c", () => changeView({ contours: !useView.getState().contours }));
  useHotkeys("w", () => changeView({ flowLines: !useView.getState().flowLines }));
  useHotkeys("n", (event) => {
    event.preventDefault();
    document.querySelector<HTMLElement>("[data-testid=add-step]")?.click();
  });
  useHotkeys("s", () => toggleBench("survey"));
  useHotkeys("m", () => toggleBench("moments"));
  useHotkeys("1, 2, 3", (event) => {
    const stage = STAGES[Number(event.key) - 1];
    if (stage) changeView({ stage });
  });
  useHotkeys("esc", () =>
    changeView({
      watched: null,
      help: false,
      alone: false,
      solo: null,
      pointing: null,
      onPlace: null,
    }),
  );
  useHotkeys("shift+slash, ?", () => changeView({ help: true }));
}
