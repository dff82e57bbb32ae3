import { useMemo } from "react";
import type { Picture } from "../live/picture";
import { maskImage, STRIPES, usePhase } from "./hatch";

/** Pixels of the screen that the plan is wide, about, for stripes as wide as in relief. */
const WIDE = 640;

/** The watched mask over the plan: stripes, seen through the mask. */
export function PlanHatch({ picture }: { picture: Picture }) {
  const image = useMemo(() => maskImage(picture), [picture]);
  const phase = usePhase(image !== null);
  if (!image) return null;
  // Along the diagonal that cells are counted by.
  const pixels = (cells: number) => (cells * WIDE) / STRIPES.over / Math.SQRT2;
  const [pitch, width] = [pixels(STRIPES.pitch), pixels(STRIPES.width)];
  const shift = pitch * ((phase % STRIPES.pitch) / STRIPES.pitch);
  return (
    <div
      className="pointer-events-none absolute inset-0"
      data-testid="plan-hatch"
      style={{
        backgroundImage: `repeating-linear-gradient(135deg, transparent ${-shift}px, transparent ${pitch - width - shift}px, var(--color-accent) ${pitch - width - shift}px, var(--color-accent) ${pitch - shift}px)`,
        maskImage: `url(${image})`,
        maskSize: "100% 100%",
      }}
    />
  );
}
