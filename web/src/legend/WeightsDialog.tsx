import { useEffect, useRef, useState } from "react";
import type { Cover, ImportedPicture } from "../api/types";

/** Colours for the channels of a weight map, until the artist chooses. */
const CHANNELS = [
  { name: "red", colour: "#8a837a" },
  { name: "green", colour: "#5f7038" },
  { name: "blue", colour: "#9a9384" },
  { name: "alpha", colour: "#eef1f4" },
];
/** Alpha that is full everywhere says nothing. */
const FULL = 0.999;

interface Props {
  name: string;
  found: ImportedPicture;
  onTake: (covers: Cover[]) => void;
  onClose: () => void;
}

/** Which channels of a weight map become grounds; each is shown. */
export function WeightsDialog({ name, found, onTake, onClose }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const { id: asset, channels, means } = found;
  const isAlpha = (channel: number) => channel === 3 || (channels === 2 && channel === 1);
  const [taken, setTaken] = useState(() =>
    means.map((mean, channel) => !isAlpha(channel) || mean < FULL),
  );
  const total = means.reduce((sum, mean, k) => sum + (taken[k] ? mean : 0), 0);
  const called = (channel: number) =>
    channels === 1 ? "white" : isAlpha(channel) ? "alpha" : (CHANNELS[channel]?.name ?? "");
  const lay = () => {
    const chosen = means.flatMap((_, channel) => (taken[channel] ? [channel] : []));
    onTake(
      chosen.map((channel) => ({
        id: "weights",
        name: `${name}, ${called(channel)}`,
        on: true,
        colour: CHANNELS[isAlpha(channel) ? 3 : channel]?.colour ?? "#8a837a",
        mottle: { amount: 0.15, feature_m: 400 },
        mask: {
          terms: [
            {
              of: { image: { asset, channel, of_rest: chosen.length > 1 } },
              soft_from: 0,
              soft_to: 0,
              invert: false,
              join: "multiply",
            },
          ],
        },
      })),
    );
    onClose();
  };
  return (
    <dialog ref={dialog} className="modal" aria-label="Import a weight map" onClose={onClose}>
      <form
        className="modal-box max-w-2xl space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          lay();
        }}
      >
        <h2 className="text-lg font-semibold">Weights of {name}</h2>
        <p className="text-sm">Each channel that is chosen becomes a ground of its own.</p>
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          {means.map((mean, channel) => (
            <label key={channel} className="block text-xs">
              <img
                src={`/api/assets/${asset}/picture.png?channel=${channel}`}
                alt=""
                className="bg-base-300 mb-1 h-24 w-full rounded object-cover"
              />
              <span className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  data-testid={`weights-${channel}`}
                  checked={taken[channel]}
                  onChange={(event) =>
                    setTaken(taken.map((was, k) => (k === channel ? event.target.checked : was)))
                  }
                />
                {called(channel)}
              </span>
              <span className="text-base-content/80">
                {isAlpha(channel) && mean >= FULL
                  ? "full everywhere: likely no weight"
                  : taken[channel]
                    ? `${((100 * mean) / Math.max(total, 1e-9)).toFixed(0)} % of the land, about`
                    : "left out"}
              </span>
            </label>
          ))}
        </div>
        <div className="flex justify-end gap-2">
          <button type="button" className="btn btn-sm" onClick={onClose}>
            Cancel
          </button>
          <button
            className="btn btn-primary btn-sm"
            disabled={!taken.includes(true)}
            data-testid="weights-take"
          >
            Add
          </button>
        </div>
      </form>
    </dialog>
  );
}
