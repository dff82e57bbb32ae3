import type { Picture } from "../live/picture";
import { useView, type Place } from "../studio/view";
import { brush } from "./brush";
import { core } from "./core";
import { course } from "./course";
import { place } from "./place";
import { ruler } from "./ruler";
import { section } from "./section";
import { stand } from "./stand";
import type { Handler, Press, Tool, ToolNamed } from "./tool";

/** One for each tool. */
const HANDLERS: { [N in Tool["name"]]: Handler<ToolNamed<N>> } = {
  section,
  ruler,
  core,
  stand,
  place,
  course,
  brush,
};

export function handlerOf(tool: Tool): Handler {
  return HANDLERS[tool.name] as Handler;
}

/** Whether drags on the relief are the tool's in hand. */
export function useTakesDrags(): boolean {
  return useView(({ tool }) => handlerOf(tool).takesDrags ?? false);
}

export function takesDrags(): boolean {
  return handlerOf(useView.getState().tool).takesDrags ?? false;
}

let from: Place | null = null;

export function pressOf(
  place: Place,
  event: { pointerType: string; pressure: number; shiftKey: boolean },
): Press {
  const pressure = event.pointerType === "pen" ? event.pressure : 1;
  return { place, pressure, straight: event.shiftKey };
}

/** The pointer went down on the land. */
export function pressed(press: Press) {
  const { tool } = useView.getState();
  from = press.place;
  handlerOf(tool).begin?.(tool, press);
}

/** It moved while it was down. */
export function dragged(press: Press) {
  const { tool } = useView.getState();
  if (from) handlerOf(tool).drag?.(tool, press, from);
}

/** It came up again. */
export function lifted() {
  const { tool } = useView.getState();
  if (!from) return;
  from = null;
  handlerOf(tool).end?.(tool);
}

/** It went down and up on the spot. */
export function clicked(place: Place, picture: Picture) {
  const { tool } = useView.getState();
  handlerOf(tool).click?.(tool, place, picture);
}
