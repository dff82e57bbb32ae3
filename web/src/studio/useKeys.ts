import { useHotkeys } from "react-hotkeys-hook";
import { redo, undo } from "../live/edit";
import { layDown } from "../tools/tool";
import { STAGES } from "./stages";
import { changeView, useView, type Bench } from "./view";

/** Every key of the studio, for the help sheet too. */
export const KEYS: [string, string][] = [
  ["Ctrl + Z", "Undo"],
  ["Ctrl + Shift + Z, Ctrl + Y", "Redo"],
  ["B, held", "See the land before the last edit"],
  ["V", "Change between relief and plan"],
  ["Home", "The whole land in the picture"],
  ["P", "The place under the pointer from near by"],
  ["L", "The land alone, over the whole window"],
  ["F", "Form only, without the ground’s colours"],
  ["C", "Contour lines"],
  ["W", "Flow lines: where water runs"],
  ["N", "Add a step"],
  ["S, M", "Survey; moments"],
  [STAGES.map((_, i) => i + 1).join(", "), `Stage ${STAGES.map(({ name }) => name).join(", ")}`],
  ["Arrows, standing on the land", "Walk 6 m or turn; with Shift walk 60 m"],
  ["Space on a grip, then Up, Down", "Move a step or a ground; Space lays it down, Esc leaves it"],
  ["Up, Down in a field", "A little more or less; with Shift in larger steps"],
  ["Esc", "Lay down the tool in hand; stop showing a mask, one step or the land alone"],
  ["?", "This sheet"],
];

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
  useHotkeys("home", () => changeView({ framing: "land", standing: false }));
  useHotkeys("p", () => changeView({ framing: "place", standing: false }));
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
  useHotkeys(STAGES.map((_, i) => `${i + 1}`).join(", "), (event) => {
    const entry = STAGES[Number(event.key) - 1];
    if (entry) changeView({ stage: entry.stage });
  });
  // Wherever the focus is: a tool in hand is always laid down.
  useHotkeys(
    "esc",
    ({ target }) => {
      layDown();
      // In a field it takes back what was typed, and nothing else.
      if (target instanceof HTMLInputElement) return;
      changeView({ watched: null, help: false, alone: false, solo: null });
    },
    { enableOnFormTags: true },
  );
  useHotkeys("shift+slash, ?", () => changeView({ help: true }));
}
