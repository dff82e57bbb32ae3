import { changeView } from "../studio/view";
import type { Handler, ToolNamed } from "./tool";

export const core: Handler<ToolNamed<"core">> = {
  hint: "Click on the land: what each step did there",
  click: (_, place) => changeView({ core: place, bench: "core" }),
};
