import { changeView } from "../studio/view";
import type { Handler, ToolNamed } from "./tool";

export const ruler: Handler<ToolNamed<"ruler">> = {
  hint: "Drag on the plan: length, rise and slope",
  drag: (_, { place }, from) => changeView({ ruler: { from, to: place } }),
};
