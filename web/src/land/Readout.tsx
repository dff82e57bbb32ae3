import { formatLength, formatNumber } from "../controls/units";
import { useSession } from "../live/session";
import { useRecipe } from "../live/recipe";
import { readAt, type Picture } from "../live/picture";
import { useView, type Line } from "../studio/view";
import { groundAt } from "./scene/groundAt";
import { lookingOf } from "./standing";

/** Place, height, slope and ground under the pointer; the ruler's measures. */
export function Readout({ picture }: { picture: Picture }) {
  const pointer = useView((view) => view.pointer);
  const ruler = useView((view) => view.ruler);
  const exaggeration = useView((view) => view.exaggeration);
  const relief = useView((view) => view.projection === "relief");
  const recipe = useRecipe();
  const known = useSession((state) => state.finest);
  // Of a coarser picture of the same land less would be read than is known.
  const finest = known && known.header.revision === picture.header.revision ? known : picture;
  const shown = pointer && readAt(picture, pointer.x, pointer.y);
  const reading = pointer && shown && { ...readAt(finest, pointer.x, pointer.y), mask: shown.mask };
  const cover = recipe?.covers.find((entry) => entry.id === reading?.cover);
  return (
    <div
      className="bg-base-100/90 absolute right-2 bottom-2 max-w-[calc(100%-6.5rem)] rounded px-2 py-1 text-right text-xs"
      data-testid="readout"
    >
      {relief && <StandingLine picture={picture} />}
      {ruler && <RulerLine picture={picture} ruler={ruler} />}
      {pointer && reading ? (
        <>
          {Math.round(pointer.x)} m E, {Math.round(pointer.y)} m N ·{" "}
          <strong>{formatNumber(reading.height ?? 0)} m</strong>
          <span title="Within a cell of the picture the land may be so much higher or lower">
            {" "}
            ± {formatNumber(uncertainty(finest, reading.slope ?? 0))} m
          </span>{" "}
          · slope {formatNumber(reading.slope ?? 0)}°{cover && <> · {cover.name}</>}
          {reading.mask !== null && <> · mask {Math.round(100 * reading.mask)} %</>}
        </>
      ) : (
        <>
          lowest {formatNumber(picture.header.low_m)} m · mean{" "}
          <span data-testid="mean-height">{picture.header.mean_m.toFixed(2)}</span> m · highest{" "}
          {formatNumber(picture.header.high_m)} m
        </>
      )}
      {relief && <> · heights {exaggeration === 1 ? "true to scale" : `× ${exaggeration}`}</>}
    </div>
  );
}

/** How far the land within a cell is from the height of its middle, where it goes on as it
 * does there. */
function uncertainty({ header }: Picture, slope_deg: number): number {
  return (header.cell_m / 2) * Math.tan((slope_deg * Math.PI) / 180);
}

/** Where one stands, and which way one looks. */
function StandingLine({ picture }: { picture: Picture }) {
  const standing = useView((view) => view.standing);
  const camera = useView((view) => view.camera);
  if (!standing || !camera) return null;
  const { place, bearing } = lookingOf(picture, camera);
  const degrees = Math.round((bearing * 180) / Math.PI + 360) % 360;
  return (
    <p data-testid="standing">
      You stand at {Math.round(place.x)} m E, {Math.round(place.y)} m N ·{" "}
      <strong>{formatNumber(groundAt(picture, place.x, place.y))} m</strong> · looking to {degrees}°
    </p>
  );
}

function RulerLine({ picture, ruler: { from, to } }: { picture: Picture; ruler: Line }) {
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  const [start, end] = [readAt(picture, from.x, from.y), readAt(picture, to.x, to.y)];
  const rise = start && end ? end.height - start.height : null;
  return (
    <p data-testid="ruler">
      <strong>{formatLength(length)}</strong>
      {rise !== null && (
        <>
          {" "}
          · rise {formatNumber(rise)} m · {formatNumber((Math.atan2(rise, length) * 180) / Math.PI)}
          °
        </>
      )}
    </p>
  );
}
