import { CircleAlert, TriangleAlert } from "lucide-react";
import type { Outlook, TargetFinding, Wish } from "../api/types";

interface Props {
  findings: TargetFinding[];
  onFix: (wish: Wish) => void;
}

/** What the target would not take, or what may not be meant, and a way out of each. */
export function Findings({ findings, onFix }: Props) {
  if (findings.length === 0) return null;
  return (
    <ul className="grid gap-2" aria-label="Before it is exported" data-testid="findings">
      {findings.map(({ rule, weight, finding, fix }) => (
        <li
          key={rule}
          className="border-base-300 bg-base-200 flex items-start gap-2 rounded border p-2 text-sm"
          data-testid={`export-finding-${rule}`}
        >
          {weight === "wrong" ? (
            <CircleAlert size={16} className="text-error mt-0.5 shrink-0" aria-label="Wrong" />
          ) : (
            <TriangleAlert
              size={16}
              className="text-warning mt-0.5 shrink-0"
              aria-label="Doubtful"
            />
          )}
          <div className="grid justify-items-start gap-1">
            <p>{finding}</p>
            {fix && (
              <button
                type="button"
                className="btn btn-xs"
                data-testid={`export-fix-${rule}`}
                onClick={() => onFix(fix.wish)}
              >
                {fix.label}
              </button>
            )}
          </div>
        </li>
      ))}
    </ul>
  );
}

const UNITS: [number, string][] = [
  [2 ** 30, "GiB"],
  [2 ** 20, "MiB"],
  [2 ** 10, "KiB"],
];

function inBytes(bytes: number): string {
  const [size, unit] = UNITS.find(([size]) => bytes >= size) ?? [1, "bytes"];
  const count = bytes / size;
  return `${count < 10 ? count.toFixed(1) : Math.round(count)} ${unit}`;
}

function inTime(seconds: number): string {
  if (seconds < 1) return "a moment";
  return seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`;
}

interface OutlookProps {
  outlook: Outlook;
  triangles: number | null;
}

/** Result: cells, triangles, and what it takes. */
export function OutlookLines({ outlook, triangles }: OutlookProps) {
  const { cols, rows, cell_m, file_bytes, memory_bytes, seconds } = outlook;
  const size = `${cols} × ${rows} cells of ${Number(cell_m.toPrecision(3))} m`;
  return (
    <section aria-label="Result" className="text-sm tabular-nums">
      <h3 className="mb-1 font-medium">Result</h3>
      <p data-testid="export-size">
        {size}
        {triangles !== null && `, about ${triangles.toLocaleString("en")} triangles`}
      </p>
      <p className="text-base-content/80">
        about {inBytes(file_bytes)} of files, {inBytes(memory_bytes)} of memory, {inTime(seconds)}
      </p>
    </section>
  );
}
