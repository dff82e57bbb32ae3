import type { Reading } from "../api/types";
import { importPicture, PICTURE_FILES } from "../shelf/importFile";
import { FileButton } from "./FileButton";
import { useAssetName } from "./useAssetName";

const CHANNELS = ["red or grey", "green", "blue", "alpha"];

interface Props {
  values: { asset?: string; channel?: number; of_rest?: boolean };
  testId: string;
  onCommit: (reading: Reading) => void;
}

/** An imported picture as a reading: which file, and which of its channels. */
export function ImageReading({ values, testId, onCommit }: Props) {
  const asset = values.asset ?? "";
  const name = useAssetName(asset);
  const set = (change: object) => onCommit({ image: { ...values, asset, ...change } });
  return (
    <div className="space-y-1 text-xs">
      <div className="grid grid-cols-[6.5rem_1fr] items-center gap-2">
        <span>File</span>
        <FileButton
          label={asset ? `${name} — change` : "Choose a picture"}
          accept={PICTURE_FILES}
          testId={`${testId}.picture`}
          onFiles={([file]) =>
            file && void importPicture(file).then((found) => found && set({ asset: found.id }))
          }
        />
      </div>
      <label className="grid grid-cols-[6.5rem_1fr] items-center gap-2">
        <span>Channel</span>
        <select
          className="select select-xs"
          value={values.channel ?? 0}
          onChange={(event) => set({ channel: Number(event.target.value) })}
        >
          {CHANNELS.map((name, k) => (
            <option key={name} value={k}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={values.of_rest ?? false}
          onChange={(event) => set({ of_rest: event.target.checked })}
        />
        as a share of this channel and those before it
      </label>
    </div>
  );
}
