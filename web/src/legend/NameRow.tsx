import { Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { Recipe } from "../api/types";
import { commit } from "../live/edit";

interface Props {
  name: string;
  onRename: (name: string) => void;
  /** The edit of the recipe that takes it out. */
  without: (draft: Recipe) => void;
  /** Further buttons. */
  children?: ReactNode;
}

/** The name of what is open in the legend, and the way to be rid of it. */
export function NameRow({ name, onRename, without, children }: Props) {
  return (
    <div className="flex items-center gap-1">
      <input
        className="input input-xs grow"
        aria-label="Name"
        key={name}
        defaultValue={name}
        onBlur={(event) => {
          const to = event.target.value.trim();
          if (to && to !== name) onRename(to);
        }}
      />
      {children}
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={`Delete ${name}`}
        onClick={() => void commit(`Delete ${name}`, without)}
      >
        <Trash2 size={13} />
      </button>
    </div>
  );
}
