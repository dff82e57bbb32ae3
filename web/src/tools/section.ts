import { changeView } from "../studio/view";
import type { Handler, ToolNamed } from "./tool";

export const section: Handler<ToolNamed<"section">> = {
  hint: "Drag on the plan: the line of the section",
  drag: (_, { place }, from) => changeView({ section: { from, to: place } }),
};
