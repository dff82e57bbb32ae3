import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answered, api } from "../api/client";
import type { LandEntry, NewLandscape as Made } from "../api/types";
import { GrownPicture } from "../controls/GrownPicture";
import { NumberField } from "../controls/NumberField";

/** Depth against width, of the proportions that are offered. */
const PROPORTIONS = [
  { title: "Square", depth: 1 },
  { title: "3 : 2", depth: 2 / 3 },
  { title: "2 : 1", depth: 0.5 },
  { title: "5 : 7", depth: 1.4 },
] as const;

interface Props {
  onClose: () => void;
  onMake: (made: Made) => void;
}

/** What kind of country a new landscape begins with, and how large it is. */
export function NewLandscape({ onClose, onMake }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const { data: lands } = useQuery({
    queryKey: ["lands"],
    queryFn: () => answered(api.GET("/api/lands")),
    staleTime: Infinity,
  });
  const [chosen, setChosen] = useState<LandEntry | null>(null);
  const [width, setWidth] = useState<number | null>(null);
  const [depth, setDepth] = useState<number | null>(null);
  const ready = lands !== undefined;
  useEffect(() => {
    if (ready) dialog.current?.showModal();
  }, [ready]);
  const land = chosen ?? lands?.[0];
  if (!lands || !land) return null;
  const size = { width_m: width ?? land.side_m, depth_m: depth ?? width ?? land.side_m };
  const proportion = size.depth_m / size.width_m;
  const isIt = (of: number) => Math.abs(proportion / of - 1) < 1e-3;
  const make = () =>
    onMake({
      name: land.key === "flat" ? "New landscape" : land.title,
      start: { land: { key: land.key, ...size } },
    });

  return (
    <dialog ref={dialog} className="modal" aria-label="New landscape" onClose={onClose}>
      <form
        className="modal-box max-w-3xl space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          make();
        }}
      >
        <h2 className="text-lg font-semibold">New landscape</h2>
        <fieldset>
          <legend className="pb-1 text-sm">What it begins with</legend>
          <div className="grid grid-cols-2 gap-2 sm:grid-cols-5">
            {lands.map((entry) => (
              <Card
                key={entry.key}
                land={entry}
                chosen={entry.key === land.key}
                onChoose={() => {
                  setChosen(entry);
                  setWidth(null);
                  setDepth(null);
                }}
              />
            ))}
          </div>
        </fieldset>
        <p className="text-base-content/80 min-h-10 text-sm">{land.about}</p>
        <div className="grid gap-x-6 gap-y-1 sm:grid-cols-2">
          <NumberField
            label="West to east"
            unit="m"
            value={size.width_m}
            slider={[1000, 40_000]}
            log
            testId="new-width"
            onCommit={(to) => {
              setDepth(to * proportion);
              setWidth(to);
            }}
          />
          <NumberField
            label="South to north"
            unit="m"
            value={size.depth_m}
            slider={[1000, 40_000]}
            log
            testId="new-depth"
            onCommit={(to) => {
              setWidth(size.width_m);
              setDepth(to);
            }}
          />
        </div>
        <p className="text-base-content/80 text-xs" data-testid="what-fits">
          {fits(Math.max(size.width_m, size.depth_m))}
        </p>
        <div className="flex flex-wrap items-center justify-between gap-2">
          <div className="join" role="group" aria-label="Proportion">
            {PROPORTIONS.map(({ title, depth: of }) => (
              <button
                key={title}
                type="button"
                className={`btn btn-sm join-item ${isIt(of) ? "btn-active" : ""}`}
                aria-pressed={isIt(of)}
                onClick={() => {
                  setWidth(size.width_m);
                  setDepth(Math.round(size.width_m * of));
                }}
              >
                {title}
              </button>
            ))}
          </div>
          <div className="flex gap-2">
            <button type="button" className="btn btn-sm" onClick={() => dialog.current?.close()}>
              Cancel
            </button>
            <button type="submit" className="btn btn-primary btn-sm" data-testid="make-landscape">
              Create
            </button>
          </div>
        </div>
      </form>
    </dialog>
  );
}

/** What a piece of country of this length has room for. */
function fits(longest_m: number): string {
  if (longest_m < 2_000) return "Room for a hill, a gorge or a bay: cells of a step or two.";
  if (longest_m < 6_000) return "Room for a valley with its sides, or one mountain.";
  if (longest_m < 15_000) return "Room for a small range with its valleys, or an island.";
  if (longest_m < 40_000) return "Room for ranges with plains between; single rocks are not seen.";
  return "Room for whole regions; only great forms are seen.";
}

interface CardProps {
  land: LandEntry;
  chosen: boolean;
  onChoose: () => void;
}

function Card({ land, chosen, onChoose }: CardProps) {
  return (
    <label
      className={`bg-base-100 has-[:focus-visible]:outline-primary cursor-pointer overflow-hidden rounded border has-[:focus-visible]:outline-2 ${
        chosen ? "border-primary ring-primary ring-1" : "border-base-300 hover:border-primary"
      }`}
      title={land.about}
      data-testid={`land-${land.key}`}
    >
      <input type="radio" name="land" className="sr-only" checked={chosen} onChange={onChoose} />
      <GrownPicture
        src={`/api/lands/${land.key}/picture.png`}
        className="bg-base-300 h-16 w-full object-cover"
      />
      <span className="block px-1.5 py-1 text-xs font-medium">{land.title}</span>
    </label>
  );
}
