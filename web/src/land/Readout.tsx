import { formatLength, formatNumber } from "../controls/units";
import { useRecipe } from "../live/recipe";
import { readAt, type Picture } from "../live/picture";
import { useView, type Line } from "../studio/view";

/** Place, height, slope and ground under the pointer; the ruler's measures. */
export function Readout({ picture }: { picture: Picture }) {
  const pointer = useView((view) => view.pointer);
  const ruler = useView((view) => view.ruler);
  const exaggeration = useView((view) => view.exaggeration);
  const relief = useView((view) => view.projection === "relief");
  const recipe = useRecipe();
  const reading = pointer && readAt(picture, pointer.x, pointer.y);
  const cover = recipe?.covers.find((entry) => entry.id === reading?.cover);
  return (
    <div
      className="bg-base-100/90 absolute right-2 bottom-2 rounded px-2 py-1 text-right text-xs"
      data-testid="readout"
    >
      {ruler && <RulerLine picture={picture} ruler={ruler} />}
      {pointer && reading ? (
        <>
          {Math.round(pointer.x)} m E, {Math.round(pointer.y)} m N ·{" "}
          <strong>{formatNumber(reading.height)} m</strong> · slope {formatNumber(reading.slope)}°
          {cover && <> · {cover.name}</>}
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
