import { useMemo } from "react";
import { formatNumber } from "../controls/units";
import type { Picture } from "../live/picture";
import { useSession } from "../live/session";
import { changeView, useView } from "../studio/view";
import { LandView } from "./LandView";

/** The land beside another moment: a divider, side by side, or the difference. */
export function Compare({ now }: { now: Picture }) {
  const against = useSession((state) => state.against);
  const mode = useView((view) => view.compare);
  const revision = useView((view) => view.against);
  if (!against || against.header.revision !== revision) {
    return (
      <>
        <LandView picture={now} />
        <p className="badge absolute top-10 left-2" role="status">
          Growing revision {revision} …
        </p>
      </>
    );
  }
  if (mode === "side") return <SideBySide {...{ now, against }} />;
  if (mode === "difference") return <DifferenceMap {...{ now, against }} />;
  return <Divider {...{ now, against }} />;
}

/** What the moment is compared with: the newest one, or another. */
function Shown() {
  const at = useView((view) => view.at);
  return at === null ? "Now" : `Revision ${at}`;
}

interface Pair {
  now: Picture;
  against: Picture;
}

const TAG = "bg-base-100/90 pointer-events-none absolute rounded px-2 text-xs";

function SideBySide({ now, against }: Pair) {
  return (
    <div className="grid h-full grid-cols-2 gap-px" data-testid="side-by-side">
      <div className="relative min-w-0 overflow-hidden">
        <LandView picture={against} />
        <span className={`${TAG} bottom-24 left-2`}>Revision {against.header.revision}</span>
      </div>
      <div className="relative min-w-0 overflow-hidden">
        <LandView picture={now} />
        <span className={`${TAG} right-2 bottom-10`}>
          <Shown />
        </span>
      </div>
    </div>
  );
}

/** The earlier moment on the left of a line that can be dragged. */
function Divider({ now, against }: Pair) {
  const divider = useView((view) => view.divider);
  const percent = `${100 * divider}%`;
  const drag = (event: React.PointerEvent) => {
    const box = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!box || event.buttons === 0) return;
    const share = (event.clientX - box.left) / box.width;
    changeView({ divider: Math.min(0.98, Math.max(0.02, share)) });
  };
  return (
    <div className="relative h-full">
      <div className="absolute inset-0">
        <LandView picture={now} />
      </div>
      <div
        className="absolute inset-0"
        style={{ clipPath: `inset(0 ${100 - 100 * divider}% 0 0)` }}
      >
        <LandView picture={against} />
      </div>
      <span className={`${TAG} bottom-24 left-2`}>Revision {against.header.revision}</span>
      <span className={`${TAG} right-2 bottom-10`}>
        <Shown />
      </span>
      <div
        className="absolute inset-y-0 -ml-2 w-4 cursor-col-resize touch-none"
        style={{ left: percent }}
        role="slider"
        tabIndex={0}
        aria-label="Divider between the two moments"
        aria-valuenow={Math.round(100 * divider)}
        data-testid="divider"
        onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
        onPointerMove={drag}
        onKeyDown={(event) => {
          const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
          if (by) changeView({ divider: Math.min(0.98, Math.max(0.02, divider + by)) });
        }}
      >
        <span className="bg-primary mx-auto block h-full w-0.5" />
      </div>
    </div>
  );
}

function DifferenceMap({ now, against }: Pair) {
  const { difference } = against.header;
  const picture = useMemo(
    () => (against.difference ? { ...now, colour: against.difference, mask: null } : now),
    [now, against],
  );
  return (
    <div className="relative h-full">
      <LandView picture={picture} />
      {difference && (
        <div
          className="bg-base-100/90 absolute bottom-24 left-2 rounded p-2 text-xs"
          data-testid="difference"
        >
          <p className="font-semibold">Change since revision {against.header.revision}</p>
          <span className="block h-2.5 w-56 rounded-sm bg-linear-to-r from-[#2166ac] via-[#f7f7f7] to-[#b2182b]" />
          <p className="flex justify-between">
            <span>−{formatNumber(difference.scale_m)} m</span>
            <span>0</span>
            <span>+{formatNumber(difference.scale_m)} m</span>
          </p>
          <p>
            RMS {formatNumber(difference.rms_m)} m · most {formatNumber(difference.most_m)} m
          </p>
        </div>
      )}
    </div>
  );
}
