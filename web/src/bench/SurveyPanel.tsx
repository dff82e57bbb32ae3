import type { Finding } from "../api/types";
import { commitPatch } from "../live/edit";
import { findStep, strandWith, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { changeView } from "../studio/view";

/** Likely mistakes, why they matter, and a way out of each. */
export function SurveyPanel() {
  const findings = useSession((state) => state.findings);
  if (findings.length === 0) {
    return <p className="text-base-content/80 text-xs">Nothing to point out.</p>;
  }
  return (
    <ul className="space-y-2">
      {findings.map((finding, i) => (
        <Entry key={`${finding.rule} ${finding.step ?? i}`} finding={finding} />
      ))}
    </ul>
  );
}

function Entry({ finding }: { finding: Finding }) {
  const recipe = useRecipe();
  const id = finding.step;
  const step = recipe && id ? findStep(recipe, id) : undefined;
  const open = () => {
    if (recipe && id) changeView({ openBand: id, strand: strandWith(recipe, id)?.name ?? "land" });
  };
  return (
    <li
      className="border-base-300 bg-base-100 rounded border p-2 text-xs"
      data-testid={`finding-${finding.rule}`}
    >
      {step && (
        <button type="button" className="link link-hover font-semibold" onClick={open}>
          {step.name}
        </button>
      )}
      <p>{finding.finding}</p>
      <p className="text-base-content/80">{finding.why}</p>
      {finding.fix && (
        <button
          type="button"
          className="btn btn-xs mt-1"
          data-testid={`fix-${finding.rule}`}
          onClick={() => void commitPatch(finding.fix?.label ?? "Fix", finding.fix?.patch ?? [])}
        >
          {finding.fix.label}
        </button>
      )}
    </li>
  );
}
