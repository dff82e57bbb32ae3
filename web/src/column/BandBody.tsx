import { Copy, Trash2 } from "lucide-react";
import { useKinds } from "../api/useKinds";
import type { Recipe, Step } from "../api/types";
import { ChoiceField } from "../controls/ChoiceField";
import { MaskEditor } from "../controls/MaskEditor";
import { NumberField } from "../controls/NumberField";
import { Parameters } from "../controls/Parameters";
import { labelOf, type KindSchema } from "../controls/schema";
import { commit, preview } from "../live/edit";
import { findStep, freshId, operationOf } from "../live/recipe";
import { LedgerLines } from "./LedgerLines";

const COMBINES = ["replace", "add", "subtract", "multiply", "highest", "lowest"];

/** Everything that can be set about a step. */
export function BandBody({ step, traces }: { step: Step; traces: string[] }) {
  const kinds = useKinds();
  const [kind, values] = operationOf(step);
  const sheet = kinds.find((entry) => entry.kind === kind);
  if (!sheet) return null;
  const schema = sheet.schema as KindSchema;
  const on = (change: (target: Step) => void) => (draft: Recipe) => {
    const target = findStep(draft, step.id);
    if (target) change(target);
  };
  const setParameter = (name: string, value: unknown) =>
    on((target) => {
      operationOf(target)[1][name] = value;
    });
  const duplicate = () =>
    commit(`Duplicate ${step.name}`, (draft) => {
      const strand = draft.strands.find((strand) => strand.steps.some((s) => s.id === step.id));
      const at = strand?.steps.findIndex((s) => s.id === step.id) ?? -1;
      const copy = { ...step, id: freshId(draft, kind), name: `${step.name} copy` };
      strand?.steps.splice(at + 1, 0, copy);
    });
  const remove = () =>
    commit(`Delete ${step.name}`, (draft) => {
      for (const strand of draft.strands) {
        strand.steps = strand.steps.filter((other) => other.id !== step.id);
      }
    });

  return (
    <div className="bg-base-200 space-y-2.5 px-2.5 py-2">
      <p className="text-base-content/70 text-xs">
        <span className="text-base-content font-semibold">{sheet.title}.</span> {schema.description}
      </p>
      <label className="grid grid-cols-[6.5rem_1fr] items-center gap-2 text-xs">
        Name
        <input
          className="input input-xs w-full"
          key={step.name}
          defaultValue={step.name}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== step.name) {
              void commit(
                `Rename ${step.name}`,
                on((target) => void (target.name = name)),
              );
            }
          }}
        />
      </label>
      <Parameters
        schema={schema}
        defaults={sheet.defaults as Record<string, unknown>}
        values={values}
        testId={step.id}
        onPreview={(name, value) => preview(setParameter(name, value))}
        onCommit={(name, value) =>
          void commit(`${labelOf(name)} of ${step.name}`, setParameter(name, value))
        }
      />
      <LedgerLines step={step.id} />
      <hr className="border-base-300" />
      <ChoiceField
        label="Combine"
        value={step.combine}
        choices={COMBINES.map((value) => ({ value }))}
        onCommit={(value) =>
          void commit(
            `Combine of ${step.name}`,
            on((target) => void (target.combine = value as Step["combine"])),
          )
        }
      />
      <NumberField
        label="Amount"
        slider={[0, 1]}
        standard={1}
        value={step.amount}
        testId={`${step.id}.amount`}
        onPreview={(amount) => preview(on((target) => void (target.amount = amount)))}
        onCommit={(amount) =>
          void commit(
            `Amount of ${step.name}`,
            on((target) => void (target.amount = amount)),
          )
        }
      />
      <MaskEditor
        owner={step.id}
        mask={step.mask}
        traces={traces}
        onPreview={(mask) => preview(on((target) => setMask(target, mask)))}
        onCommit={(mask) =>
          void commit(
            `Mask of ${step.name}`,
            on((target) => setMask(target, mask)),
          )
        }
      />
      <div className="flex justify-end gap-1">
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => void duplicate()}>
          <Copy size={13} /> Duplicate
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => void remove()}>
          <Trash2 size={13} /> Delete
        </button>
      </div>
    </div>
  );
}

function setMask(target: Step, mask: Step["mask"]) {
  if (mask) target.mask = mask;
  else delete target.mask;
}
