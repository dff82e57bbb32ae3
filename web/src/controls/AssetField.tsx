import { HEIGHT_FILES, importInto } from "../shelf/importFile";
import { FileButton } from "./FileButton";
import { useAssetName } from "./useAssetName";
import type { Changes } from "./Parameters";

interface Props {
  asset: string;
  /** Whether the step has a scale in metres a unit, rather than a white. */
  scaled: boolean;
  onCommit: (changes: Changes) => void;
}

/** An imported file, and the way to import another one. */
export function AssetField({ asset, scaled, onCommit }: Props) {
  const name = useAssetName(asset);
  return (
    <div className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
      <span>File</span>
      <FileButton
        label={asset ? `${name} — change` : "Choose a file"}
        accept={HEIGHT_FILES}
        testId="asset-file"
        onFiles={([file]) =>
          file &&
          void importInto(file, ({ asset, scale, white }) =>
            onCommit(scaled ? { asset, scale } : { asset, white }),
          )
        }
      />
    </div>
  );
}
