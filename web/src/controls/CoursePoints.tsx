import { Droplets, Pencil } from "lucide-react";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { DrawnPoint } from "../api/types";
import { useSession } from "../live/session";
import type { Place } from "../studio/view";
import { inHand, layDown, takeUp, useInHand } from "../tools/tool";
import { courseFile, courseOf } from "./courseFile";
import { evenly, lengthOf } from "./evenly";
import { FileButton } from "./FileButton";
import { NumberField } from "./NumberField";
import { counted } from "./units";

interface Props {
  /** By which it is told from others. */
  of: string;
  step: string;
  points: DrawnPoint[];
  smooth: boolean;
  onPreview: (points: DrawnPoint[]) => void;
  onCommit: (points: DrawnPoint[]) => void;
}

/** A point with its place as tools know it. */
type Corner = Place & Partial<Pick<DrawnPoint, "wide" | "high" | "steep">>;

/** What can be more or less at each point. */
const FACTORS = { wide: "Width ×", high: "Height ×", steep: "Steepness ×" } as const;

const cornerOf = ({ x_m, y_m, ...rest }: DrawnPoint): Corner => ({ x: x_m, y: y_m, ...rest });
const pointOf = ({ x, y, ...rest }: Corner): DrawnPoint => ({
  ...rest,
  x_m: Math.round(x),
  y_m: Math.round(y),
});

/** The points of a drawn course: places on the plan, and how wide and high it is at each. */
export function CoursePoints({ of, step, points, smooth, onPreview, onCommit }: Props) {
  const tool = useInHand("course");
  const editing = tool?.of === of;
  const pointing = useInHand("place")?.of === of;
  const [chosen, setChosen] = useState(0);
  const landscape = useSession((state) => state.landscape);
  const k = Math.min(chosen, points.length - 1);
  const point = points[k];
  const edit = () => {
    if (editing) {
      layDown();
      return;
    }
    takeUp({
      name: "course",
      of,
      points: points.map(cornerOf),
      closed: false,
      smooth,
      change: (corners) => onCommit((corners as Corner[]).map(pointOf)),
      chosen: setChosen,
    });
  };
  // What came from elsewhere, such as an undo, shows on the plan too.
  useEffect(() => {
    const held = inHand("course");
    if (held?.of === of) takeUp({ ...held, smooth, points: points.map(cornerOf) });
  }, [of, points, smooth]);
  useEffect(
    () => () => {
      if (inHand("course")?.of === of) layDown();
    },
    [of],
  );
  const changed = (to: Partial<DrawnPoint>) =>
    points.map((point, i) => (i === k ? { ...point, ...to } : point));
  const followWater = ({ x, y }: Place) => {
    if (!landscape) return;
    const params = { path: { id: landscape }, query: { step, x_m: x, y_m: y, cells: 512 } };
    answered(api.GET("/api/landscapes/{id}/way-of-water", { params }))
      .then((way) => {
        const corners = way.map(([x_m = 0, y_m = 0]) => ({ x_m, y_m }));
        if (corners.length < 2) toast("Water stays where that place is.");
        else onCommit(evenly(corners, Math.min(24, Math.max(3, corners.length))));
      })
      .catch((error: Error) => toast.error(error.message));
  };
  return (
    <div className="space-y-1.5 text-xs">
      <div className="flex flex-wrap items-center gap-1">
        <button
          type="button"
          className={`btn btn-xs ${editing ? "btn-primary" : ""}`}
          aria-pressed={editing}
          data-testid="edit-course"
          onClick={edit}
        >
          <Pencil size={13} />{" "}
          {editing ? "Done" : `${counted(points.length, "point")}: edit on the land`}
        </button>
        <button
          type="button"
          className={`btn btn-xs ${pointing ? "btn-primary" : ""}`}
          aria-pressed={pointing}
          title="Click on the land: the course takes the way that water takes from there"
          data-testid="follow-water"
          onClick={() =>
            pointing ? layDown() : takeUp({ name: "place", of, choose: followWater })
          }
        >
          <Droplets size={13} /> Follow water
        </button>
      </div>
      {editing && (
        <p className="text-base-content/80">
          Drag a point. On the relief a click goes on to there. On the plan click on the line for a
          new point, double-click to remove one; with keys: Tab to a point, arrows, Insert and
          Delete.
        </p>
      )}
      {point && (
        <fieldset className="space-y-1">
          <legend className="text-base-content/80" data-testid="course-point">
            Point {k + 1} of {points.length}
          </legend>
          {(Object.keys(FACTORS) as (keyof typeof FACTORS)[]).map((name) => (
            <NumberField
              key={name}
              label={FACTORS[name]}
              testId={`course.${name}`}
              slider={[0, 3]}
              min={name === "steep" ? 0.01 : 0}
              max={100}
              standard={1}
              value={point[name] ?? 1}
              onPreview={(value) => onPreview(changed({ [name]: value }))}
              onCommit={(value) => onCommit(changed({ [name]: value }))}
            />
          ))}
        </fieldset>
      )}
      <div className="flex flex-wrap items-center gap-1">
        <Evened
          label="Even out to"
          unit="points"
          testId="even-out"
          value={points.length}
          onCommit={(count) => onCommit(evenly(points, within(count)))}
        />
        <Evened
          label="or every"
          unit="m"
          testId="even-every"
          value={Math.round(lengthOf(points) / (points.length - 1))}
          onCommit={(spacing) =>
            onCommit(evenly(points, within(lengthOf(points) / Math.max(1, spacing) + 1)))
          }
        />
        <FileButton
          accept=".geojson,.json"
          testId="course-in"
          label="From GeoJSON"
          onFiles={([file]) => {
            file
              ?.text()
              .then((text) => onCommit(courseOf(text)))
              .catch((error: Error) => toast.error(error.message));
          }}
        />
        <a
          className="btn btn-ghost btn-xs"
          download="course.geojson"
          href={courseFile(points)}
          data-testid="course-out"
        >
          As GeoJSON
        </a>
      </div>
    </div>
  );
}

/** As many points as a course may be evened out to. */
const within = (count: number) => Math.min(200, Math.max(2, Math.round(count)));

interface EvenedProps {
  label: string;
  unit: string;
  testId: string;
  value: number;
  onCommit: (value: number) => void;
}

/** A number that takes effect with Enter alone: it moves all points. */
function Evened({ label, unit, testId, value, onCommit }: EvenedProps) {
  return (
    <label className="flex items-center gap-1">
      {label}
      <input
        className="input input-xs w-14"
        type="number"
        min={1}
        defaultValue={value}
        key={value}
        data-testid={testId}
        onKeyDown={(event) => {
          const { valueAsNumber } = event.currentTarget;
          if (event.key === "Enter" && Number.isFinite(valueAsNumber)) onCommit(valueAsNumber);
        }}
      />
      {unit}
    </label>
  );
}
