import { useMemo } from "react";
import { Vector3 } from "three";
import { useRecipe } from "../../live/recipe";
import { useView } from "../../studio/view";

/** Haze to one width of the land: hills at its far side lose about a quarter. */
const DENSITY = 0.34;

/** Where the sun stands and how thick the air is, for the shaders. */
export function useAir() {
  // A mask in grey is looked at for what it says.
  const haze = useView(({ haze, hazeAmount, maskAlone, watched }) =>
    haze && !(maskAlone && watched) ? hazeAmount : 0,
  );
  const sun = useRecipe()?.sun;
  const bearing = ((sun?.bearing_deg ?? 315) * Math.PI) / 180;
  const altitude = ((sun?.altitude_deg ?? 40) * Math.PI) / 180;
  return useMemo(() => {
    const level = Math.cos(altitude);
    return {
      haze: haze * DENSITY,
      sunward: new Vector3(
        level * Math.sin(bearing),
        Math.sin(altitude),
        -level * Math.cos(bearing),
      ),
    };
  }, [haze, bearing, altitude]);
}
