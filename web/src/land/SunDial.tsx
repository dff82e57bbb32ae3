import { useRef } from "react";
import { arrowSteps } from "../controls/arrowKeys";
import { commitValue, preview } from "../live/edit";
import { useRecipe } from "../live/recipe";
import type { Recipe } from "../api/types";

const RADIUS = 29;
const LOWEST_DEG = 1;

/** Where the sun stands: bearing around the dial, height towards its middle. */
export function SunDial() {
  const sun = useRecipe()?.sun;
  const dragged = useRef<NonNullable<Recipe["sun"]> | null>(null);
  if (!sun) return null;
  const angle = (sun.bearing_deg * Math.PI) / 180;
  const out = RADIUS * (1 - sun.altitude_deg / 90);
  const shown = { x: out * Math.sin(angle), y: -out * Math.cos(angle) };
  const sunAt = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - box.left - box.width / 2;
    const y = event.clientY - box.top - box.height / 2;
    const bearing = (Math.atan2(x, -y) * 180) / Math.PI;
    const altitude = 90 * (1 - Math.hypot(x, y) / RADIUS);
    return {
      bearing_deg: Math.round((bearing + 360) % 360),
      altitude_deg: Math.round(Math.min(90, Math.max(LOWEST_DEG, altitude))),
    };
  };
  const drag = (event: React.PointerEvent<SVGSVGElement>) => {
    const next = sunAt(event);
    dragged.current = next;
    preview((draft) => void (draft.sun = next));
  };
  const nudge = (event: React.KeyboardEvent) => {
    const steps = arrowSteps(event);
    if (!steps) return;
    const from = dragged.current ?? sun;
    const altitude = from.altitude_deg + steps[1];
    const next = {
      bearing_deg: (from.bearing_deg + steps[0] + 360) % 360,
      altitude_deg: Math.min(90, Math.max(LOWEST_DEG, altitude)),
    };
    dragged.current = next;
    preview((draft) => void (draft.sun = next));
  };
  const drop = () => {
    const next = dragged.current;
    dragged.current = null;
    if (next) void commitValue((draft) => void (draft.sun = next));
  };
  return (
    <svg
      className="bg-base-100/85 absolute bottom-2 left-2 h-20 w-20 cursor-pointer touch-none rounded-full"
      viewBox="-40 -40 80 80"
      role="slider"
      tabIndex={0}
      aria-label="Sun: left and right turn it, up and down raise and lower it"
      aria-valuemin={0}
      aria-valuemax={360}
      aria-valuenow={sun.bearing_deg}
      aria-valuetext={`bearing ${sun.bearing_deg}°, ${sun.altitude_deg}° high`}
      onKeyDown={nudge}
      onKeyUp={drop}
      onBlur={drop}
      data-testid="sun-dial"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag(event);
      }}
      onPointerMove={(event) => {
        if (event.buttons !== 0 && dragged.current) drag(event);
      }}
      onPointerUp={drop}
    >
      <circle r={RADIUS} className="stroke-base-content/40 fill-none" />
      <circle r={RADIUS / 2} className="stroke-base-content/20 fill-none" />
      <line x1={0} y1={0} x2={shown.x} y2={shown.y} className="stroke-base-content/40" />
      <text y={-RADIUS - 2} textAnchor="middle" fontSize={9} className="fill-base-content/70">
        N
      </text>
      <circle cx={shown.x} cy={shown.y} r={5} className="fill-warning stroke-base-100" />
      <text y={20} textAnchor="middle" fontSize={7.5} className="fill-base-content/80">
        {sun.bearing_deg}° · {sun.altitude_deg}°
      </text>
    </svg>
  );
}
