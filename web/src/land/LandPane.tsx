import { Minimize2 } from "lucide-react";
import { useEffect } from "react";
import { Working } from "../controls/Working";
import { say, useSession } from "../live/session";
import { changeView, useView } from "../studio/view";
import { FrameGuides } from "./CameraTools";
import { Compare } from "./Compare";
import { LandKeys } from "./LandKeys";
import { LandModes } from "./LandModes";
import { LandTools } from "./LandTools";
import { LandView } from "./LandView";
import { Readout } from "./Readout";
import { SunDial } from "./SunDial";

/** The land, in relief or as a plan, now, before, or beside another moment. */
export function LandPane() {
  const showBefore = useView((view) => view.showBefore);
  const relief = useView((view) => view.projection === "relief");
  const alone = useView((view) => view.alone);
  const comparing = useView((view) => view.against !== null);
  const now = useSession((state) => state.now);
  const before = useSession((state) => state.before);
  const parent = useSession((state) => state.head?.parent ?? null);
  useEffect(() => {
    if (showBefore && !before && parent !== null) say({ type: "before" });
  }, [showBefore, before, parent]);
  const picture = showBefore ? (before ?? now) : now;

  return (
    <section className="bg-base-300 relative h-full" aria-label="Land">
      {!picture && (
        <div className="grid h-full place-items-center">
          <Working what="Growing the land" />
        </div>
      )}
      {picture && (
        <LandKeys picture={picture}>
          {comparing && !showBefore ? <Compare now={picture} /> : <LandView picture={picture} />}
        </LandKeys>
      )}
      {relief && <FrameGuides />}
      {alone ? <BackButton /> : <LandTools />}
      <LandModes />
      {showBefore && (
        <p className="badge badge-primary absolute top-10 left-2" role="status">
          {parent === null ? "There is no earlier state" : "Before the last edit"}
        </p>
      )}
      {!alone && <SunDial />}
      {picture && <Readout picture={picture} />}
    </section>
  );
}

/** From the land alone back to the studio. */
function BackButton() {
  return (
    <button
      type="button"
      className="btn btn-xs absolute top-2 right-2"
      data-testid="alone-end"
      title="Back to column and legend (L)"
      onClick={() => changeView({ alone: false })}
    >
      <Minimize2 size={13} /> Back
    </button>
  );
}
