import { ChevronDown, ChevronRight } from "lucide-react";
import type { ReactNode } from "react";
import { changeView, useView } from "../studio/view";

interface Props {
  /** What is opened, as the view knows it. */
  owner: string;
  name: string;
  className?: string;
  /** What stands between the name and the arrow. */
  children?: ReactNode;
}

/** A name in the legend that opens and closes what is known of it. */
export function OpenButton({ owner, name, className = "min-w-0 grow", children }: Props) {
  const open = useView((view) => view.openBand === owner);
  return (
    <button
      type="button"
      className={`flex items-center gap-1 text-left text-sm ${className}`}
      aria-expanded={open}
      data-testid={`open-${owner}`}
      onClick={() => changeView({ openBand: open ? null : owner })}
    >
      <span className="min-w-0 grow">
        <span className="block truncate" title={name}>
          {name}
        </span>
        {children}
      </span>
      {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
    </button>
  );
}
