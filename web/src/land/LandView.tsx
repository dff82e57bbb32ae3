import { useMemo } from "react";
import type { Picture } from "../live/picture";
import { useView } from "../studio/view";
import { maskAlone } from "./maskAlone";
import { Plan } from "./Plan";
import { Relief } from "./Relief";

/** One picture of the land, in the projection that is chosen. */
export function LandView({ picture }: { picture: Picture }) {
  const projection = useView((view) => view.projection);
  const grey = useView((view) => view.maskAlone);
  const shown = useMemo(() => (grey ? maskAlone(picture) : picture), [grey, picture]);
  return projection === "relief" ? <Relief picture={shown} /> : <Plan picture={shown} />;
}
