import type { Handler, ToolNamed } from "./tool";

/** Its corners have handles of their own on the plan. */
export const course: Handler<ToolNamed<"course">> = {
  hint: "On the plan: drag a corner, click on an edge for a new one, double-click to remove one",
};
