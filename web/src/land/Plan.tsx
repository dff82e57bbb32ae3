import { useEffect, useRef, useState } from "react";
import { formatLength } from "../controls/units";
import { sizeOf, type Picture } from "../live/picture";
import { changeView, useView, type Place } from "../studio/view";
import { OutlineEditor } from "./OutlineEditor";
import { PlanMarks } from "./PlanMarks";
import { beginStroke, endStroke, extendStroke, painting } from "./stroke";
import { useLandCanvas } from "./useLandCanvas";
import { usePointing } from "./usePointing";

/** The land from above, north up. What a drag does is up to the tool in hand. */
export function Plan({ picture }: { picture: Picture }) {
  const { canvas, drawn } = useLandCanvas(picture);
  const shown = useRef<HTMLCanvasElement>(null);
  const editing = useView((view) => view.outline !== null);
  const pointing = usePointing();
  const [start, setStart] = useState<Place | null>(null);
  const { width, depth } = sizeOf(picture);
  const north = picture.header.north_m;

  useEffect(() => {
    const target = shown.current;
    if (!target) return;
    target.width = canvas.width;
    target.height = canvas.height;
    target.getContext("2d")?.drawImage(canvas, 0, 0);
  }, [canvas, drawn]);

  const placeOf = (event: React.PointerEvent): Place => {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      x: ((event.clientX - box.left) / box.width) * width,
      y: north - ((event.clientY - box.top) / box.height) * depth,
    };
  };
  const near = (a: Place, b: Place) => Math.hypot(a.x - b.x, a.y - b.y) < width / 200;
  const scale = niceLength(width / 5);
  return (
    <div className="h-full p-3 pt-11 pb-9">
      <div className="[container-type:size] grid h-full place-items-center overflow-hidden">
        <div
          className="relative cursor-crosshair touch-none"
          style={{
            aspectRatio: `${width} / ${depth}`,
            width: `min(100cqw, ${(100 * width) / depth}cqh)`,
          }}
          onPointerMove={(event) => {
            const place = placeOf(event);
            changeView({ pointer: place });
            if (start && painting()) extendStroke(place, event);
            else if (start && !near(start, place)) pointing.drag(start, place);
          }}
          onPointerDown={(event) => {
            if (editing) return;
            event.currentTarget.setPointerCapture(event.pointerId);
            setStart(placeOf(event));
            if (painting()) beginStroke(placeOf(event), event);
          }}
          onPointerUp={(event) => {
            const place = placeOf(event);
            if (start && painting()) endStroke();
            else if (start && near(start, place)) pointing.click(place);
            setStart(null);
          }}
          onPointerLeave={() => changeView({ pointer: null })}
          data-testid="plan"
        >
          <canvas ref={shown} className="h-full w-full" aria-label="Plan of the land" />
          <PlanMarks picture={picture} />
          {editing && <OutlineEditor width={width} depth={depth} north={north} />}
          <div
            className="absolute bottom-2 left-24 border-x border-b border-white text-center text-[0.65rem] text-white"
            style={{ width: `${(100 * scale) / width}%`, textShadow: "0 0 3px black" }}
          >
            {formatLength(scale)}
          </div>
        </div>
      </div>
    </div>
  );
}

/** The largest of 1, 2, 5, 10 … that is not longer than this. */
function niceLength(metres: number): number {
  const power = 10 ** Math.floor(Math.log10(metres));
  const lead = metres / power;
  return power * (lead >= 5 ? 5 : lead >= 2 ? 2 : 1);
}
