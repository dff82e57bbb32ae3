import { Box, Map as MapIcon } from "lucide-react";
import { useEffect } from "react";
import { useSession } from "../live/session";
import { say } from "../live/session";
import { changeView, useView } from "../studio/view";
import { Plan } from "./Plan";
import { Readout } from "./Readout";
import { Relief } from "./Relief";

/** The land, in relief or as a plan, now or before the last edit. */
export function LandPane() {
  const { projection, greyForm, showBefore } = useView();
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
        <p className="grid h-full place-items-center text-sm" role="status">
          Growing the land …
        </p>
      )}
      {picture &&
        (projection === "relief" ? <Relief picture={picture} /> : <Plan picture={picture} />)}
      <div className="absolute top-2 left-2 flex gap-2">
        <div className="join bg-base-100">
          <button
            type="button"
            className={`join-item btn btn-xs ${projection === "relief" ? "btn-neutral" : ""}`}
            aria-pressed={projection === "relief"}
            title="Relief in three dimensions (V)"
            onClick={() => changeView({ projection: "relief" })}
          >
            <Box size={13} /> Relief
          </button>
          <button
            type="button"
            className={`join-item btn btn-xs ${projection === "plan" ? "btn-neutral" : ""}`}
            aria-pressed={projection === "plan"}
            title="Plan from above (V)"
            onClick={() => changeView({ projection: "plan" })}
          >
            <MapIcon size={13} /> Plan
          </button>
        </div>
        <label className="bg-base-100 flex items-center gap-1 rounded px-2 text-xs">
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={greyForm}
            onChange={(event) => changeView({ greyForm: event.target.checked })}
          />
          Form only
        </label>
      </div>
      {showBefore && (
        <p className="badge badge-primary absolute top-2 right-2" role="status">
          {parent === null ? "There is no earlier state" : "Before the last edit"}
        </p>
      )}
      {picture && <Readout picture={picture} />}
    </section>
  );
}
