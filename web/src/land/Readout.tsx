import { formatNumber } from "../controls/units";
import { useRecipe } from "../live/recipe";
import { readAt, type Picture } from "../live/picture";
import { useView } from "../studio/view";

/** Place, height, slope and ground under the pointer. */
export function Readout({ picture }: { picture: Picture }) {
  const pointer = useView((view) => view.pointer);
  const recipe = useRecipe();
  const reading = pointer && readAt(picture, pointer.x, pointer.y);
  const cover = recipe?.covers.find((entry) => entry.id === reading?.cover);
  return (
    <div
      className="bg-base-100/90 absolute right-2 bottom-2 rounded px-2 py-1 text-xs"
      data-testid="readout"
    >
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
    </div>
  );
}
