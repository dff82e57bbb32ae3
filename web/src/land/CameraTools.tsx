import { Footprints } from "lucide-react";
import { changeView, useView, type FrameGuide } from "../studio/view";
import { ToolChoice, ToolToggle } from "./ToolBox";

const LENSES = [18, 24, 28, 35, 50, 85, 135];
const FRAMES: FrameGuide[] = ["none", "16:9", "2:1", "3:1"];

/** Lens, haze, frame guides, and the way down to eye height. */
export function CameraTools() {
  const { lens_mm, haze, guide, tool, standing } = useView();
  return (
    <div className="flex gap-2">
      <ToolChoice
        label="Lens"
        title="Focal length on a sensor 36 mm wide"
        testId="lens"
        width="w-20"
        value={lens_mm}
        options={LENSES.map((mm) => [mm, `${mm} mm`])}
        onChange={(mm) => changeView({ lens_mm: Number(mm) })}
      />
      <ToolChoice
        label="Frame"
        title="Frame of the picture"
        testId="frame"
        width="w-16"
        value={guide}
        options={FRAMES.map((frame) => [frame, frame])}
        onChange={(frame) => changeView({ guide: frame as FrameGuide })}
      />
      <ToolToggle
        label="Haze"
        title="Sky, and haze that shows depth"
        testId="haze"
        checked={haze}
        onChange={(haze) => changeView({ haze })}
      />
      <button
        type="button"
        className={`btn btn-xs ${tool === "stand" || standing ? "btn-primary" : ""}`}
        aria-pressed={tool === "stand" || standing}
        data-testid="stand"
        title="Stand on the land: click where. Again to rise above it"
        onClick={() =>
          changeView(
            standing
              ? { standing: false, camera: null, tool: "section" }
              : { tool: tool === "stand" ? "section" : "stand" },
          )
        }
      >
        <Footprints size={13} /> {standing ? "Rise" : "Stand"}
      </button>
    </div>
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
