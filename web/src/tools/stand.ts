import { FIRST_POSE } from "../land/pose";
import { standAt } from "../land/standing";
import { changeView, useView } from "../studio/view";
import { layDown, type Handler, type ToolNamed } from "./tool";

export const stand: Handler<ToolNamed<"stand">> = {
  hint: "Click on the land: stand there",
  click: (_, place, picture) => {
    const { camera, exaggeration } = useView.getState();
    layDown();
    changeView({
      camera: standAt(picture, place, camera ?? FIRST_POSE, exaggeration),
      standing: true,
      projection: "relief",
    });
  },
};
