import { Copy, CopyPlus, Grid3x3, ScanEye, Trash2 } from "lucide-react";
import { useKinds } from "../api/useKinds";
import type { Recipe, Step } from "../api/types";
import { MaskEditor } from "../controls/MaskEditor";
import { Parameters } from "../controls/Parameters";
import { type KindSchema } from "../controls/schema";
import { TextField } from "../controls/TextField";
import { commit, commitValue, preview } from "../live/edit";
import { findStep, freshId, operationOf, strandWith } from "../live/recipe";
import { changeView, useView } from "../studio/view";
import { copyStep } from "./clipboard";
import { JoinFields } from "./JoinFields";
import { LedgerLines } from "./LedgerLines";

/** Everything that can be set about a step. */
export function BandBody({ step, products }: { step: Step; products: string[] }) {
  const kinds = useKinds();
  const [kind, values] = operationOf(step);
  const sheet = kinds.find((entry) => entry.kind === kind);
  if (!sheet) return null;
  const schema = sheet.schema as KindSchema;
  const on = (change: (target: Step) => void) => (draft: Recipe) => {
    const target = findStep(draft, step.id);
    if (target) change(target);
  };
  const setParameters = (changes: Record<string, unknown>) =>
    on((target) => {
      const values = operationOf(target)[1];
      for (const [name, value] of Object.entries(changes)) {
        if (value === undefined) Reflect.deleteProperty(values, name);
        else values[name] = value;
      }
    });

  return (
    <div className="bg-base-200 space-y-2.5 px-2.5 py-2">
      <p className="text-base-content/80 text-xs">
        <span className="text-base-content font-semibold">{sheet.title}.</span> {schema.description}
      </p>
      <TextField
        label="Name"
        value={step.name}
        onCommit={(name) => {
          if (name)
            void commit(
              `Rename ${step.name}`,
              on((target) => void (target.name = name)),
            );
        }}
      />
      <Parameters
        schema={schema}
        defaults={sheet.defaults as Record<string, unknown>}
        values={values}
        testId={step.id}
        products={products}
        onPreview={(changes) => preview(setParameters(changes))}
        onCommit={(changes) => {
          void commitValue(setParameters(changes));
        }}
      />
      <LedgerLines step={step.id} />
      <hr className="border-base-300" />
      <JoinFields step={step} on={on} />
      <MaskEditor
        owner={step.id}
        mask={step.mask}
        products={products}
        onPreview={(mask) => preview(on((target) => setMask(target, mask)))}
        onCommit={(mask) => void commitValue(on((target) => setMask(target, mask)))}
      />
      <TextField
        label="Note"
        value={step.note ?? ""}
        onCommit={(note) => void commitValue(on((target) => void (target.note = note)))}
      />
      <Actions step={step} kind={kind} />
    </div>
  );
}

/** What can be done with a step as a whole. */
function Actions({ step, kind }: { step: Step; kind: string }) {
  const solo = useView((view) => view.solo === step.id);
  const duplicate = () =>
    commit(`Duplicate ${step.name}`, (draft) => {
      const strand = strandWith(draft, step.id);
      const at = strand?.steps.findIndex((other) => other.id === step.id) ?? -1;
      const copy = { ...step, id: freshId(draft, kind), name: `${step.name} copy` };
      strand?.steps.splice(at + 1, 0, copy);
    });
  const remove = () =>
    commit(`Delete ${step.name}`, (draft) => {
      for (const strand of draft.strands) {
        strand.steps = strand.steps.filter((other) => other.id !== step.id);
      }
    });
  const button = "btn btn-ghost btn-xs";
  return (
    <div className="flex flex-wrap justify-end gap-0.5">
      <button
        type="button"
        className={solo ? "btn btn-primary btn-xs" : button}
        aria-pressed={solo}
        data-testid={`solo-${step.id}`}
        title="Look at this step alone"
        onClick={() => changeView({ solo: solo ? null : step.id })}
      >
        <ScanEye size={13} /> Alone
      </button>
      <button
        type="button"
        className={button}
        data-testid={`sheet-${step.id}`}
        title="A sheet of variants to choose from"
        onClick={() => changeView({ sheetOf: step.id })}
      >
        <Grid3x3 size={13} /> Sheet
      </button>
      <button
        type="button"
        className={button}
        data-testid={`copy-${step.id}`}
        title="Copy, to paste here or in another landscape"
        onClick={() => copyStep(step)}
      >
        <Copy size={13} /> Copy
      </button>
      <button type="button" className={button} onClick={() => void duplicate()}>
        <CopyPlus size={13} /> Duplicate
      </button>
      <button
        type="button"
        className={button}
        data-testid={`delete-${step.id}`}
        onClick={() => void remove()}
      >
        <Trash2 size={13} /> Delete
      </button>
    </div>
  );
}

function setMask(target: Step, mask: Step["mask"]) {
  if (mask) target.mask = mask;
  else delete target.mask;
}
