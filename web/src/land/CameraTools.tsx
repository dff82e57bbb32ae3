import { Footprints } from "lucide-react";
import { changeView, useView, type FrameGuide } from "../studio/view";

const LENSES = [18, 24, 28, 35, 50, 85, 135];
const FRAMES: FrameGuide[] = ["none", "16:9", "2:1", "3:1"];

/** Lens, haze, frame guides, and the way down to eye height. */
export function CameraTools() {
  const { lens_mm, haze, guide, tool, standing } = useView();
  const box = "bg-base-100 flex items-center gap-1 rounded px-2 text-xs";
  return (
    <div className="flex gap-2">
      <label className={box} title="Focal length on a sensor 36 mm wide">
        Lens
        <select
          className="select select-xs select-ghost h-5 w-20"
          data-testid="lens"
          value={lens_mm}
          onChange={(event) => changeView({ lens_mm: Number(event.target.value) })}
        >
          {LENSES.map((mm) => (
            <option key={mm} value={mm}>
              {mm} mm
            </option>
          ))}
        </select>
      </label>
      <label className={box} title="Frame of the picture">
        Frame
        <select
          className="select select-xs select-ghost h-5 w-16"
          data-testid="frame"
          value={guide}
          onChange={(event) => changeView({ guide: event.target.value as FrameGuide })}
        >
          {FRAMES.map((frame) => (
            <option key={frame} value={frame}>
              {frame}
            </option>
          ))}
        </select>
      </label>
      <label className={box} title="Sky, and haze that shows depth">
        <input
          type="checkbox"
          className="toggle toggle-xs"
          data-testid="haze"
          checked={haze}
          onChange={(event) => changeView({ haze: event.target.checked })}
        />
        Haze
      </label>
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
