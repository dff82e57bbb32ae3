import { changeView, useView, type FrameGuide } from "../studio/view";
import { ToolChoice, ToolToggle } from "./ToolBox";
import { ToolMenu } from "./ToolMenu";

const LENSES = [18, 24, 28, 35, 50, 85, 135];
const FRAMES: FrameGuide[] = ["none", "16:9", "2:1", "3:1"];

/** Lens, haze and frame guides. */
export function CameraMenu() {
  const { lens_mm, haze, hazeAmount, guide } = useView();
  return (
    <ToolMenu
      name="Camera"
      title="Lens, frame and air"
      testId="camera-menu"
      marked={guide !== "none" || !haze}
    >
      <ToolChoice
        label="Lens"
        title="Focal length on a sensor 36 mm wide"
        testId="lens"
        width="w-24"
        value={lens_mm}
        options={LENSES.map((mm) => [mm, `${mm} mm`])}
        onChange={(mm) => changeView({ lens_mm: Number(mm) })}
      />
      <ToolChoice
        label="Frame"
        title="Frame of the picture"
        testId="frame"
        width="w-24"
        value={guide}
        options={FRAMES.map((frame) => [frame, frame])}
        onChange={(frame) => changeView({ guide: frame as FrameGuide })}
      />
      <button
        type="button"
        className="btn btn-xs"
        title="The whole land in the picture (Home)"
        data-testid="frame-land"
        onClick={() => changeView({ framing: "land", standing: false })}
      >
        Whole land
      </button>
      <ToolToggle
        label="Haze"
        title="Sky, and haze that shows depth"
        testId="haze"
        checked={haze}
        onChange={(haze) => changeView({ haze })}
      />
      {haze && (
        <label className="flex items-center justify-between gap-2 text-xs">
          How thick
          <input
            type="range"
            className="range range-xs w-28 [--range-fill:0]"
            aria-label="How thick the haze is"
            data-testid="haze-amount"
            min={0.2}
            max={4}
            step={0.1}
            value={hazeAmount}
            onChange={(event) => changeView({ hazeAmount: Number(event.target.value) })}
          />
        </label>
      )}
    </ToolMenu>
  );
}

const RATIOS: Record<FrameGuide, string | null> = {
  none: null,
  "16:9": "16 / 9",
  "2:1": "2 / 1",
  "3:1": "3 / 1",
};

/** What will be in the picture; the rest is dimmed. */
export function FrameGuides() {
  const ratio = useView((view) => RATIOS[view.guide]);
  if (!ratio) return null;
  return (
    <div
      className="pointer-events-none absolute inset-0 grid place-items-center overflow-hidden"
      data-testid="frame-guide"
    >
      <div
        className="outline-base-content/40 w-full outline-2 outline-[2000px]"
        style={{ aspectRatio: ratio }}
      />
    </div>
  );
}
