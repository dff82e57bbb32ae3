import { useEffect, useRef, useState } from "react";
import { formatLength } from "../controls/units";
import { described, sizeOf, type Picture } from "../live/picture";
import { changeView, type Place } from "../studio/view";
import { clicked, dragged, lifted, pressed, pressOf } from "../tools/handlers";
import { useInHand } from "../tools/tool";
import { CourseEditor } from "./CourseEditor";
import { PlanHatch } from "./PlanHatch";
import { PlanMarks } from "./PlanMarks";
import { useLandCanvas } from "./useLandCanvas";

/** The land from above, north up. What a drag does is up to the tool in hand. */
export function Plan({ picture }: { picture: Picture }) {
  const { canvas, drawn, lines } = useLandCanvas(picture);
  const shown = useRef<HTMLCanvasElement>(null);
  const course = useInHand("course");
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
            if (start && !near(start, place)) dragged(pressOf(place, event));
          }}
          onPointerDown={(event) => {
            // Its corners have handles of their own.
            if (course) return;
            event.currentTarget.setPointerCapture(event.pointerId);
            setStart(placeOf(event));
            pressed(pressOf(placeOf(event), event));
          }}
          onPointerUp={(event) => {
            const place = placeOf(event);
            lifted();
            if (start && near(start, place)) clicked(place, picture);
            setStart(null);
          }}
          onPointerLeave={() => changeView({ pointer: null })}
          data-testid="plan"
          data-contours={lines}
        >
          <canvas
            ref={shown}
            className="h-full w-full"
            role="img"
            aria-label={`Plan. ${described(picture)}`}
          />
          <PlanHatch picture={picture} />
          <PlanMarks picture={picture} />
          {course && <CourseEditor course={course} {...{ width, depth, north }} />}
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
