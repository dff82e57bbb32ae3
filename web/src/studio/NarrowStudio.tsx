import { useState } from "react";
import { BenchPanel } from "../bench/BenchPanel";
import { Column } from "../column/Column";
import { DeliverPanel } from "../deliver/DeliverPanel";
import { LandPane } from "../land/LandPane";
import { Legend } from "../legend/Legend";
import { Section } from "../section/Section";
import { stageCalled } from "./stages";
import { useView } from "./view";

const PARTS = ["Land", "Column", "Legend", "Section", "Bench"] as const;
type Part = (typeof PARTS)[number];

/** One part of the studio at a time, where there is no room for more. */
export function NarrowStudio() {
  const stage = useView((view) => stageCalled(view.stage));
  const bench = useView((view) => view.bench);
  const [part, setPart] = useState<Part>("Land");
  if (stage.delivers) return <DeliverPanel />;
  const offered = PARTS.filter(
    (name) => (name !== "Legend" || stage.legend) && (name !== "Bench" || bench),
  );
  const shown = offered.includes(part) ? part : "Land";
  return (
    <div className="flex h-full flex-col">
      <div className="bg-base-100 min-h-0 grow overflow-hidden">
        {shown === "Land" && <LandPane />}
        {shown === "Column" && <Column />}
        {shown === "Legend" && <Legend />}
        {shown === "Section" && <Section />}
        {shown === "Bench" && <BenchPanel />}
      </div>
      <nav className="tabs tabs-box tabs-sm rounded-none" aria-label="Parts of the studio">
        {offered.map((name) => (
          <button
            key={name}
            type="button"
            className={`tab grow ${shown === name ? "tab-active" : ""}`}
            aria-current={shown === name ? "page" : undefined}
            data-testid={`part-${name.toLowerCase()}`}
            onClick={() => setPart(name)}
          >
            {name}
          </button>
        ))}
      </nav>
    </div>
  );
}
