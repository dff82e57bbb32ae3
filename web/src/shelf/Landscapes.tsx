import { Search } from "lucide-react";
import { useState } from "react";
import type { ShelfEntry } from "../api/types";
import { LandscapeRow } from "./LandscapeRow";

type Order = "opened" | "changed" | "name" | "size";

const ORDERS: [Order, string][] = [
  ["opened", "last opened"],
  ["changed", "last changed"],
  ["name", "by name"],
  ["size", "by size"],
];

const COMPARE: Record<Order, (a: ShelfEntry, b: ShelfEntry) => number> = {
  opened: (a, b) => seen(b) - seen(a),
  changed: (a, b) => time(b.updated_at) - time(a.updated_at),
  name: (a, b) => a.name.localeCompare(b.name),
  size: (a, b) => b.width_m * b.depth_m - a.width_m * a.depth_m,
};

const time = (at: string | null | undefined) => (at ? new Date(at).getTime() : 0);
/** What nobody has opened yet counts as opened when it was made. */
const seen = (entry: ShelfEntry) => Math.max(time(entry.opened_at), time(entry.updated_at));

const KEPT = "order of the shelf";

/** The artist's own landscapes: found by name and tag, in the order that is wanted. */
export function Landscapes({ landscapes }: { landscapes: ShelfEntry[] }) {
  const [typed, setTyped] = useState("");
  const [tag, setTag] = useState<string | null>(null);
  const [order, setOrder] = useState<Order>(
    () => (localStorage.getItem(KEPT) as Order) || "opened",
  );
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const tags = [...new Set(landscapes.flatMap((entry) => entry.tags))].sort();
  const wanted = tags.includes(tag ?? "") ? tag : null;
  const found = landscapes
    .filter((entry) => {
      const said = [entry.name, ...entry.tags].join(" ").toLowerCase();
      return words.every((word) => said.includes(word)) && (!wanted || entry.tags.includes(wanted));
    })
    .sort(COMPARE[order] ?? COMPARE.opened);
  return (
    <section aria-label="Your landscapes" className="space-y-2">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="text-sm font-semibold">Your landscapes</h2>
        <label className="input input-xs flex grow items-center gap-1 sm:max-w-64">
          <Search size={12} aria-hidden />
          <input
            className="grow"
            type="search"
            placeholder="Name or tag"
            aria-label="Search the landscapes"
            data-testid="search-shelf"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        {tags.map((name) => (
          <button
            key={name}
            type="button"
            className={`btn btn-xs rounded-full ${wanted === name ? "btn-neutral" : ""}`}
            aria-pressed={wanted === name}
            onClick={() => setTag(wanted === name ? null : name)}
          >
            {name}
          </button>
        ))}
        <select
          className="select select-xs ml-auto w-32"
          aria-label="Order"
          data-testid="order-shelf"
          value={order}
          onChange={(event) => {
            setOrder(event.target.value as Order);
            localStorage.setItem(KEPT, event.target.value);
          }}
        >
          {ORDERS.map(([value, title]) => (
            <option key={value} value={value}>
              {title}
            </option>
          ))}
        </select>
      </div>
      <ul className="border-base-300 divide-base-300 bg-base-100 divide-y rounded border">
        {found.map((entry) => (
          <LandscapeRow key={entry.id} entry={entry} />
        ))}
        {found.length === 0 && (
          <li className="p-6 text-center text-sm">
            {landscapes.length === 0
              ? "The shelf is empty. Make a landscape, or import one."
              : "Nothing is called that."}
          </li>
        )}
      </ul>
    </section>
  );
}
