import { changeView, useView, type Place } from "../studio/view";

/** What clicks and drags on the land do, by the tool in hand. */
export function usePointing() {
  return {
    /** A click on the spot. */
    click(place: Place) {
      const { onPlace, tool } = useView.getState();
      if (onPlace) onPlace(place);
      else if (tool === "core") changeView({ core: place, bench: "core" });
    },
    /** A drag from one place to another. */
    drag(from: Place, to: Place) {
      const { tool } = useView.getState();
      if (tool === "ruler") changeView({ ruler: { from, to } });
      else if (tool === "section") changeView({ section: { from, to } });
    },
  };
}
