import { layDown, type Handler, type ToolNamed } from "./tool";

export const place: Handler<ToolNamed<"place">> = {
  hint: "Click on the land: the place of this parameter",
  click: (tool, at) => {
    layDown();
    tool.choose(at);
  },
};
