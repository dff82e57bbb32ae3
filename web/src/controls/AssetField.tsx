import { FileUp } from "lucide-react";
import { useRef } from "react";
import { HEIGHT_FILES, importInto } from "../shelf/importFile";
import type { Changes } from "./Parameters";

interface Props {
  asset: string;
  /** Whether the step has a scale in metres a unit, rather than a white. */
  scaled: boolean;
  onCommit: (changes: Changes) => void;
}

/** An imported file, and the way to import another one. */
export function AssetField({ asset, scaled, onCommit }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <div className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
      <span>File</span>
      <button type="button" className="btn btn-xs" onClick={() => picker.current?.click()}>
        <FileUp size={13} /> {asset ? `${asset.slice(0, 8)} … change` : "Choose a file"}
      </button>
      <input
        ref={picker}
        type="file"
        accept={HEIGHT_FILES}
        className="hidden"
        aria-label="File of this step"
        data-testid="asset-file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (!file) return;
          void importInto(file, ({ asset, scale, white }) =>
            onCommit(scaled ? { asset, scale } : { asset, white }),
          );
        }}
      />
    </div>
  );
}
