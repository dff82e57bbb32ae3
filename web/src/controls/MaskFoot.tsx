import { Download } from "lucide-react";
import { useState } from "react";
import type { Reading } from "../api/types";
import { useSession } from "../live/session";
import { MaskCompare } from "./MaskCompare";
import { useTermStudy } from "./useTermStudy";

const FILES = [
  { label: "PNG, 16 bits", format: "png", bits: "16" },
  { label: "PNG, 8 bits", format: "png", bits: "8" },
  { label: "TIFF, 16 bits", format: "tiff", bits: "16" },
  { label: "TIFF, 8 bits", format: "tiff", bits: "8" },
];
const SIZES = [512, 1024, 2048, 4096, 8192];

/** How much of the land a mask takes, and the mask as a file. */
export function MaskFoot({ owner, first }: { owner: string; first: Reading }) {
  const landscape = useSession((state) => state.landscape) ?? "";
  const { data } = useTermStudy(owner, 0, first);
  const [beside, setBeside] = useState(false);
  const [file, setFile] = useState(0);
  const [cells, setCells] = useState(1024);
  const { format, bits } = FILES[file] ?? { format: "png", bits: "16" };
  const query = new URLSearchParams({ of: owner, cells: String(cells), bits, format });
  return (
    <div className="space-y-1 text-xs">
      <p className="text-base-content/80" data-testid={`${owner}.share`}>
        {data ? `covers ${(100 * data.share).toFixed(1)} % of the land` : "…"}
      </p>
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1"
        data-testid={`${owner}.beside`}
        onClick={() => setBeside(true)}
      >
        Beside another mask
      </button>
      {beside && <MaskCompare owner={owner} onClose={() => setBeside(false)} />}
      <details>
        <summary className="cursor-pointer">As a file</summary>
        <div className="flex items-center gap-1 pt-1">
          <select
            className="select select-xs grow"
            aria-label="Kind of file"
            value={file}
            onChange={(event) => setFile(Number(event.target.value))}
          >
            {FILES.map(({ label }, k) => (
              <option key={label} value={k}>
                {label}
              </option>
            ))}
          </select>
          <select
            className="select select-xs w-20"
            aria-label="Cells along the longer side"
            value={cells}
            onChange={(event) => setCells(Number(event.target.value))}
          >
            {SIZES.map((size) => (
              <option key={size}>{size}</option>
            ))}
          </select>
          <a
            className="btn btn-xs btn-square"
            aria-label="Download the mask"
            data-testid={`${owner}.download`}
            href={`/api/landscapes/${landscape}/mask-file?${query.toString()}`}
            download
          >
            <Download size={13} />
          </a>
        </div>
      </details>
    </div>
  );
}
