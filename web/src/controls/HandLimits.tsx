import { useSession } from "../live/session";
import { ChoiceField } from "./ChoiceField";
import { changeHandBrush, useHandBrush } from "./handBrush";
import { NumberField } from "./NumberField";

const HEIGHTS: [number, number] = [-500, 3000];

/** How the pen counts, which heights are worked on, and where else a stroke is made. */
export function HandLimits({ deed }: { deed: string }) {
  const { pressure, builds_up, between, mirror, flatten, seed } = useHandBrush();
  const extent = useSession((state) => (state.draft ?? state.head?.recipe)?.extent);
  const picture = useSession((state) => state.now);
  const kind = !mirror ? "nowhere" : "line" in mirror ? "line" : "point";
  const middle = { x_m: (extent?.width_m ?? 0) / 2, y_m: (extent?.depth_m ?? 0) / 2 };
  const mirrored = (kind: string) =>
    kind === "line"
      ? { line: { ...middle, bearing_deg: 0 } }
      : kind === "point"
        ? { point: { ...middle, times: 2 } }
        : null;
  const height = (
    label: string,
    value: number,
    onCommit: (value: number) => void,
    testId: string,
  ) => (
    <NumberField
      {...{ label, value, onCommit, testId }}
      unit="m"
      slider={HEIGHTS}
      onPreview={onCommit}
    />
  );
  return (
    <>
      {deed === "flatten" && (
        <ChoiceField
          label="Level with"
          testId="hand.flatten"
          value={flatten.to}
          choices={[
            { value: "began", hint: "The land where the stroke begins" },
            { value: "height", hint: "A height" },
            { value: "plane", hint: "The plane that lies best in the land under the stroke" },
          ]}
          onCommit={(to) => changeHandBrush({ flatten: { ...flatten, to } })}
        />
      )}
      {deed === "flatten" &&
        flatten.to === "height" &&
        height(
          "Height",
          flatten.height_m,
          (height_m) => changeHandBrush({ flatten: { ...flatten, height_m } }),
          "hand.height_m",
        )}
      {deed === "roughen" && (
        <NumberField
          label="Seed"
          testId="hand.seed"
          slider={[0, 99]}
          whole
          min={0}
          value={seed}
          onPreview={(seed) => changeHandBrush({ seed })}
          onCommit={(seed) => changeHandBrush({ seed })}
        />
      )}
      <ChoiceField
        label="Pen pressure"
        testId="hand.pressure"
        value={pressure}
        choices={["strength", "size", "both", "nothing"].map((value) => ({ value }))}
        onCommit={(value) => changeHandBrush({ pressure: value as typeof pressure })}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs checkbox-primary"
          data-testid="hand.builds_up"
          checked={builds_up}
          onChange={(event) => changeHandBrush({ builds_up: event.target.checked })}
        />
        Builds up slowly
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs checkbox-primary"
          data-testid="hand.between"
          checked={between !== null}
          onChange={(event) => {
            const { low_m = 0, high_m = 1000 } = picture?.header ?? {};
            // The lowest third of the land, which is what is wanted most.
            const band = {
              from_m: Math.floor(low_m),
              to_m: Math.round(low_m + (high_m - low_m) / 3),
              soft_m: Math.round((high_m - low_m) / 50),
            };
            changeHandBrush({ between: event.target.checked ? band : null });
          }}
        />
        Only land between two heights
      </label>
      {between && (
        <>
          {height(
            "From",
            between.from_m,
            (from_m) =>
              changeHandBrush({
                between: { ...between, from_m, to_m: Math.max(from_m, between.to_m) },
              }),
            "hand.from_m",
          )}
          {height(
            "To",
            between.to_m,
            (to_m) =>
              changeHandBrush({
                between: { ...between, to_m, from_m: Math.min(to_m, between.from_m) },
              }),
            "hand.to_m",
          )}
          {height(
            "Fades over",
            between.soft_m ?? 0,
            (soft_m) => changeHandBrush({ between: { ...between, soft_m: Math.max(0, soft_m) } }),
            "hand.soft_m",
          )}
        </>
      )}
      <ChoiceField
        label="Mirrored"
        testId="hand.mirror"
        value={kind}
        choices={[
          { value: "nowhere" },
          { value: "line", hint: "On the other side of a line through the middle of the land" },
          { value: "point", hint: "Turned about the middle of the land" },
        ]}
        onCommit={(kind) => changeHandBrush({ mirror: mirrored(kind) })}
      />
      {mirror && "line" in mirror && (
        <NumberField
          label="Bearing"
          unit="°"
          testId="hand.bearing_deg"
          slider={[0, 180]}
          min={0}
          max={360}
          value={mirror.line.bearing_deg}
          onCommit={(bearing_deg) =>
            changeHandBrush({ mirror: { line: { ...mirror.line, bearing_deg } } })
          }
        />
      )}
      {mirror && "point" in mirror && (
        <NumberField
          label="Times"
          testId="hand.times"
          slider={[2, 12]}
          min={2}
          max={32}
          whole
          value={mirror.point.times}
          onCommit={(times) => changeHandBrush({ mirror: { point: { ...mirror.point, times } } })}
        />
      )}
    </>
  );
}
