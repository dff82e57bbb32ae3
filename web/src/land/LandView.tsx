import type { Picture } from "../live/picture";
import { useView } from "../studio/view";
import { Plan } from "./Plan";
import { Relief } from "./Relief";

/** One picture of the land, in the projection that is chosen. */
export function LandView({ picture }: { picture: Picture }) {
  const projection = useView((view) => view.projection);
  return projection === "relief" ? <Relief picture={picture} /> : <Plan picture={picture} />;
}
