import { Droplets, Pencil, Spline } from "lucide-react";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { DrawnPoint } from "../api/types";
import { useSession } from "../live/session";
import { changeView, type Place } from "../studio/view";
import { inHand, layDown, takeUp, useInHand } from "../tools/tool";
import { courseFile, courseOf } from "./courseFile";
import { evenly } from "./evenly";
import { FileButton } from "./FileButton";
import { NumberField } from "./NumberField";

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
type Corner = Place & Partial<Pick<DrawnPoint, "wide" | "high">>;

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
    changeView({ projection: "plan" });
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
          <Pencil size={13} /> {editing ? "Done" : `${points.length} points: edit on the plan`}
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
          Drag a point; click on the line for a new one; double-click to remove one. With keys: Tab
          to a point, arrows, Insert and Delete.
        </p>
      )}
      {point && (
        <fieldset className="space-y-1">
          <legend className="text-base-content/80" data-testid="course-point">
            Point {k + 1} of {points.length}
          </legend>
          {(["wide", "high"] as const).map((name) => (
            <NumberField
              key={name}
              label={name === "wide" ? "Width ×" : "Height ×"}
              testId={`course.${name}`}
              slider={[0, 3]}
              min={0}
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
        <label className="flex items-center gap-1" title="As many points, as far apart">
          <Spline size={13} /> Even out to
          <input
            className="input input-xs w-14"
            type="number"
            min={2}
            max={200}
            defaultValue={points.length}
            key={points.length}
            aria-label="Points after evening out"
            data-testid="even-out"
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              const count = Math.min(
                200,
                Math.max(2, Math.round(event.currentTarget.valueAsNumber)),
              );
              if (Number.isFinite(count)) onCommit(evenly(points, count));
            }}
          />
        </label>
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
