import { useEffect, useRef, useState } from "react";
import { formatLength } from "../controls/units";
import { sizeOf, type Picture } from "../live/picture";
import { changeView, useView, type Place } from "../studio/view";
import { useLandCanvas } from "./useLandCanvas";

/** The land from above, north up. Dragging draws the line of the section. */
export function Plan({ picture }: { picture: Picture }) {
  const { canvas, drawn } = useLandCanvas(picture);
  const shown = useRef<HTMLCanvasElement>(null);
  const section = useView((view) => view.section);
  const pointer = useView((view) => view.pointer);
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
  const scale = niceLength(width / 5);
  return (
    <div className="h-full p-3 pt-11 pb-9">
      <div className="grid [container-type:size] h-full place-items-center overflow-hidden">
        <div
          className="relative cursor-crosshair touch-none"
          style={{
            aspectRatio: `${width} / ${depth}`,
            width: `min(100cqw, ${(100 * width) / depth}cqh)`,
          }}
          onPointerMove={(event) => {
            const place = placeOf(event);
            changeView(
              start ? { pointer: place, section: { from: start, to: place } } : { pointer: place },
            );
          }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setStart(placeOf(event));
          }}
          onPointerUp={() => setStart(null)}
          onPointerLeave={() => changeView({ pointer: null })}
          data-testid="plan"
        >
          <canvas ref={shown} className="h-full w-full" aria-label="Plan of the land" />
          <svg
            className="pointer-events-none absolute inset-0 h-full w-full"
            viewBox={`0 0 ${width} ${depth}`}
            preserveAspectRatio="none"
          >
            {section && (
              <line
                x1={section.from.x}
                y1={north - section.from.y}
                x2={section.to.x}
                y2={north - section.to.y}
                className="stroke-accent"
                strokeWidth={2}
                vectorEffect="non-scaling-stroke"
              />
            )}
            {pointer && (
              <circle
                cx={pointer.x}
                cy={north - pointer.y}
                r={width / 200}
                className="fill-none stroke-white"
                strokeWidth={1.5}
                vectorEffect="non-scaling-stroke"
              />
            )}
          </svg>
          <div
            className="absolute bottom-2 left-2 border-x border-b border-white text-center text-[0.65rem] text-white"
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
