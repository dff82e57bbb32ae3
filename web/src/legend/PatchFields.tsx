import type { Cover } from "../api/types";
import { ColourInput } from "../controls/ColourInput";
import { NoiseFields } from "../controls/NoiseFields";

type Patches = NonNullable<Cover["patches"]>;

interface Props {
  cover: Cover;
  onPreview: (change: (target: Cover) => void) => void;
  onCommit: (change: (target: Cover) => void) => void;
}

const NEW: Patches = { colour: "#6b5a3c", amount: 0.5, feature_m: 150, seed: 1 };

/** Patches of another colour in a cover, broken up by noise. */
export function PatchFields({ cover, onPreview, onCommit }: Props) {
  const patches = cover.patches ?? null;
  const put = (next: Patches | null) => (target: Cover) => {
    if (next) target.patches = next;
    else delete target.patches;
  };
  const set = (change: Partial<Patches>) => put({ ...NEW, ...patches, ...change });
  return (
    <div className="space-y-1">
      <label className="flex items-center gap-1 text-xs">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={patches !== null}
          onChange={(event) => onCommit(put(event.target.checked ? NEW : null))}
        />
        Patches of another colour
      </label>
      {patches && (
        <div className="space-y-1 pl-5">
          <ColourInput
            label="Colour of the patches"
            colour={patches.colour}
            onCommit={(colour) => onCommit(set({ colour }))}
          />
          <NoiseFields
            noise={patches}
            onPreview={(change) => onPreview(set(change))}
            onCommit={(change) => onCommit(set(change))}
          />
        </div>
      )}
    </div>
  );
}
