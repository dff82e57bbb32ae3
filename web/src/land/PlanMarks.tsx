import { sizeOf, type Picture } from "../live/picture";
import { called } from "../live/people";
import { useSession } from "../live/session";
import { useView, type Line, type Place } from "../studio/view";
import { useInHand } from "../tools/tool";

const placeOf = ([x = 0, y = 0]: number[]): Place => ({ x, y });

/** Lines and points on the plan: section, ruler, core, pointer. */
export function PlanMarks({ picture }: { picture: Picture }) {
  const section = useView((view) => view.section);
  const ruler = useView((view) => view.ruler);
  const core = useView((view) => view.core);
  const pointer = useView((view) => view.pointer);
  const people = useSession((state) => state.people);
  const { width, depth } = sizeOf(picture);
  const north = picture.header.north_m;
  const line = ({ from, to }: Line, style: string) => (
    <line
      x1={from.x}
      y1={north - from.y}
      x2={to.x}
      y2={north - to.y}
      className={style}
      strokeWidth={2}
      vectorEffect="non-scaling-stroke"
    />
  );
  const brush = useInHand("brush")?.brush;
  const ring = ({ x, y }: Place, style: string, radius = width / 160) => (
    <circle
      cx={x}
      cy={north - y}
      r={radius}
      className={`fill-none ${style}`}
      strokeWidth={2}
      vectorEffect="non-scaling-stroke"
    />
  );
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full"
      viewBox={`0 0 ${width} ${depth}`}
      preserveAspectRatio="none"
    >
      {section && line(section, "stroke-accent")}
      {ruler && line(ruler, "stroke-white [stroke-dasharray:6_3]")}
      {core && ring(core, "stroke-accent")}
      {people.map(
        ({ id, name, at }) =>
          at && (
            <g key={id} data-testid="person-at">
              {ring(placeOf(at), "stroke-secondary")}
              <text
                x={placeOf(at).x + width / 100}
                y={north - placeOf(at).y}
                fontSize={width / 55}
                className="fill-white [paint-order:stroke] stroke-black/60"
                strokeWidth={width / 400}
              >
                {called(name)}
              </text>
            </g>
          ),
      )}
      {pointer && ring(pointer, "stroke-white")}
      {pointer && brush && ring(pointer, "stroke-accent", brush.size_m / 2)}
      {pointer &&
        brush &&
        ring(
          pointer,
          "stroke-accent [stroke-dasharray:3_4]",
          (brush.size_m / 2) * (1 - brush.softness),
        )}
    </svg>
  );
}
