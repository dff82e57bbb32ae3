import { useState } from "react";
import { useSession } from "../live/session";

interface Props {
  /** Whose mask it is, as the service knows it; with `#k` one of its stages. */
  owner: string;
  /** Cells along the longer side. */
  cells?: number;
  className?: string;
}

/** A mask from above in grey: white where it is full. */
export function MaskThumb({ owner, cells = 64, className = "h-7 w-10" }: Props) {
  const address = useMaskAddress(owner, cells);
  const [failed, setFailed] = useState<string | null>(null);
  return (
    <span className={`bg-base-300 inline-block shrink-0 overflow-hidden rounded-sm ${className}`}>
      {address && failed !== address && (
        <img
          src={address}
          alt=""
          loading="lazy"
          className="h-full w-full object-cover"
          data-testid={`thumb-${owner}`}
          // One that was only just added is not kept yet.
          onError={() => setFailed(address)}
        />
      )}
    </span>
  );
}

/** Where the picture of a mask is, as it is in what is kept. */
export function useMaskAddress(owner: string, cells: number): string | null {
  const landscape = useSession((state) => state.landscape);
  const revision = useSession((state) => state.head?.revision);
  if (!landscape || revision === undefined) return null;
  const query = new URLSearchParams({ owner, revision: String(revision), cells: String(cells) });
  return `/api/landscapes/${landscape}/mask.png?${query.toString()}`;
}
