import { useEffect } from "react";
import { sizeOf } from "../live/picture";
import { sayWhere } from "../live/people";
import { useSession } from "../live/session";
import { useView } from "./view";

/** So often others are told where one looks, at most. */
const EVERY_MS = 1500;

/** The place that is looked at: under the pointer, or in the middle of the view. */
function place(): [number, number] | null {
  const { pointer, camera } = useView.getState();
  const { now } = useSession.getState();
  if (pointer) return [pointer.x, pointer.y];
  if (!now || !camera) return null;
  const { width, depth } = sizeOf(now);
  const [, , , x = 0, , z = 0] = camera;
  return [(x + 0.5) * width, now.header.north_m - (z * width + depth / 2)];
}

/** Tells others who work here where this artist looks. */
export function useWhere() {
  const landscape = useSession((state) => state.landscape);
  useEffect(() => {
    if (!landscape) return;
    let told = "";
    const tell = () => {
      const at = place();
      const rounded = at && ([Math.round(at[0]), Math.round(at[1])] as [number, number]);
      if (JSON.stringify(rounded) === told) return;
      told = JSON.stringify(rounded);
      sayWhere(rounded);
    };
    sayWhere(null);
    const timer = setInterval(tell, EVERY_MS);
    return () => clearInterval(timer);
  }, [landscape]);
}
