import { X } from "lucide-react";
import { useSession } from "../live/session";
import { changeView, useView, type Bench } from "../studio/view";
import { CorePanel } from "./CorePanel";
import { FiguresPanel } from "./FiguresPanel";
import { MomentsPanel } from "./MomentsPanel";
import { SurveyPanel } from "./SurveyPanel";

const TABS: [Bench, string][] = [
  ["survey", "Survey"],
  ["moments", "Moments"],
  ["core", "Core"],
  ["figures", "Figures"],
];

/** What explains and compares the land: beside it, one at a time. */
export function BenchPanel() {
  const bench = useView((view) => view.bench);
  const findings = useSession((state) => state.findings.length);
  return (
    <section className="flex h-full flex-col" aria-label="Bench">
      <header className="border-base-300 flex items-center border-b px-1 py-1">
        <nav className="tabs tabs-xs grow" aria-label="Bench">
          {TABS.map(([tab, name]) => (
            <button
              key={tab}
              type="button"
              className={`tab px-2 ${bench === tab ? "tab-active font-semibold" : ""}`}
              aria-current={bench === tab ? "page" : undefined}
              data-testid={`bench-${tab}`}
              onClick={() => changeView({ bench: tab })}
            >
              {name}
              {tab === "survey" && findings > 0 && (
                <span className="badge badge-warning badge-xs ml-1">{findings}</span>
              )}
            </button>
          ))}
        </nav>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Close the bench"
          onClick={() => changeView({ bench: null })}
        >
          <X size={13} />
        </button>
      </header>
      <div className="min-h-0 grow overflow-y-auto p-2">
        {bench === "survey" && <SurveyPanel />}
        {bench === "moments" && <MomentsPanel />}
        {bench === "core" && <CorePanel />}
        {bench === "figures" && <FiguresPanel />}
      </div>
    </section>
  );
}
