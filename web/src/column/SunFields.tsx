import { NumberField } from "../controls/NumberField";
import { sunAt } from "../land/sunTime";
import type { Recipe } from "../api/types";
import { commitValue, preview } from "../live/edit";
import { useRecipe } from "../live/recipe";
import { changeView, useView } from "../studio/view";

type Sun = NonNullable<Recipe["sun"]>;

/** Where the sun stands: in numbers, or by the time of a day somewhere. */
export function SunFields() {
  const sun = useRecipe()?.sun;
  const { latitude_deg, day, hour } = useView((view) => view.sunTime);
  if (!sun) return null;
  const set = (next: Sun) => (draft: Recipe) => void (draft.sun = next);
  const number = (key: keyof Sun, label: string, [min, max]: [number, number], hint: string) => (
    <NumberField
      {...{ label, hint, min, max }}
      unit="°"
      slider={[min, max]}
      testId={`sun.${key}`}
      value={sun[key]}
      onPreview={(value) => preview(set({ ...sun, [key]: value }))}
      onCommit={(value) => void commitValue(set({ ...sun, [key]: value }))}
    />
  );
  /** The sun of a time; none while it is down. */
  const timed = (time: { latitude_deg: number; day: number; hour: number }) => {
    changeView({ sunTime: time });
    return sunAt(time.latitude_deg, time.day, time.hour);
  };
  const time = (
    key: "latitude_deg" | "day" | "hour",
    label: string,
    range: [number, number],
    more: { unit?: string; whole?: boolean; hint: string },
  ) => (
    <NumberField
      {...{ label, ...more }}
      min={range[0]}
      max={range[1]}
      slider={range}
      testId={`sun.${key}`}
      value={{ latitude_deg, day, hour }[key]}
      onPreview={(value) => {
        const next = timed({ latitude_deg, day, hour, [key]: value });
        if (next) preview(set(next));
      }}
      onCommit={(value) => {
        const next = timed({ latitude_deg, day, hour, [key]: value });
        if (next) void commitValue(set(next));
      }}
    />
  );
  const up = sunAt(latitude_deg, day, hour) !== null;
  return (
    <div className="space-y-1.5">
      {number("bearing_deg", "Sun from", [0, 360], "Compass bearing of the sun: 90° is east")}
      {number("altitude_deg", "Sun height", [1, 90], "Height of the sun above the horizon")}
      <details>
        <summary className="cursor-pointer text-xs">By the time of day</summary>
        <div className="space-y-1.5 pt-1">
          {time("hour", "Hour", [0, 24], {
            unit: "h",
            hint: "Hours of the sun: it is south at 12",
          })}
          {time("day", "Day of year", [1, 365], { whole: true, hint: "172 is midsummer" })}
          {time("latitude_deg", "Latitude", [-90, 90], { unit: "°", hint: "North above 0" })}
          {!up && <p className="text-xs">The sun is down at that time.</p>}
        </div>
      </details>
    </div>
  );
}
