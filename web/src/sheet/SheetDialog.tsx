import { useEffect, useRef, useState } from "react";
import { useKinds } from "../api/useKinds";
import type { Step } from "../api/types";
import { resolved, type KindSchema } from "../controls/schema";
import { findStep, operationOf, useRecipe } from "../live/recipe";
import { changeView, useView } from "../studio/view";
import { SheetGrid } from "./SheetGrid";
import { SweepFields } from "./SweepFields";
import { FavouritesTray } from "./FavouritesTray";
import { planOf, valuesOf, type SweepPlan } from "./sweep";

/** A sheet of variants of one step: look closer at one, or adopt it. */
export function SheetDialog() {
  const id = useView((view) => view.sheetOf);
  const recipe = useRecipe();
  const dialog = useRef<HTMLDialogElement>(null);
  const step = recipe && id ? findStep(recipe, id) : undefined;
  const open = step !== undefined;
  useEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  return (
    <dialog
      ref={dialog}
      className="modal"
      aria-label="Sheet of variants"
      onClose={() => changeView({ sheetOf: null })}
    >
      <div className="modal-box flex max-h-[92vh] max-w-4xl flex-col p-4">
        {step && <SheetBody key={step.id} step={step} />}
      </div>
      <form method="dialog" className="modal-backdrop">
        <button aria-label="Close">close</button>
      </form>
    </dialog>
  );
}

const SEEDS = 16;

function SheetBody({ step }: { step: Step }) {
  const kinds = useKinds();
  const [kind, values] = operationOf(step);
  const sheet = kinds.find((entry) => entry.kind === kind);
  const schema = sheet?.schema as KindSchema | undefined;
  const valueOf = (name: string) =>
    values[name] ?? (sheet?.defaults as Record<string, unknown> | undefined)?.[name];
  const numbers = Object.entries(schema?.properties ?? {}).filter(([, entry]) => {
    const types = [schema ? (resolved(schema, entry).type ?? []) : []].flat();
    return types.includes("number") || types.includes("integer");
  });
  const seeded = numbers.some(([name]) => name === "seed");
  const plan = (name: string, count: number): SweepPlan => {
    const entry = numbers.find(([other]) => other === name)?.[1];
    return planOf(name, entry && schema && resolved(schema, entry), valueOf(name), count);
  };
  const [first, setFirst] = useState<SweepPlan>(() =>
    seeded
      ? { parameter: "seed", count: SEEDS, low: 1, high: SEEDS, log: false }
      : plan(numbers[0]?.[0] ?? "", 5),
  );
  const [second, setSecond] = useState<SweepPlan | null>(null);
  const [shapeOnly, setShapeOnly] = useState(true);

  const change = (sweep: SweepPlan | null, set: (next: SweepPlan) => void, fallback: number) => ({
    numbers: numbers.map(([name, entry]): [string, string] => [name, entry.title ?? name]),
    sweep,
    onChange: (next: SweepPlan) =>
      set(next.parameter === sweep?.parameter ? next : plan(next.parameter, fallback)),
  });
  const whole = (name: string) => {
    const entry = numbers.find(([other]) => other === name)?.[1];
    return [entry?.type ?? []].flat().includes("integer");
  };
  const sweeps = [first, ...(second ? [second] : [])].map((sweep) => ({
    step: step.id,
    parameter: sweep.parameter,
    values: valuesOf(sweep, whole(sweep.parameter)),
  }));
  return (
    <>
      <header className="flex flex-wrap items-center gap-3 pb-2 text-sm">
        <h2 className="text-base font-semibold">Sheet of “{step.name}”</h2>
        <SweepFields {...change(first, setFirst, second ? 4 : 9)} label="Across" />
        {second ? (
          <>
            <SweepFields {...change(second, setSecond, 4)} label="Down" />
            <button type="button" className="btn btn-xs" onClick={() => setSecond(null)}>
              One parameter
            </button>
          </>
        ) : (
          <button
            type="button"
            className="btn btn-xs"
            data-testid="sheet-second"
            onClick={() => {
              const other = numbers.find(
                ([name, entry]) => name !== first.parameter && !entry["x-more"],
              )?.[0];
              if (!other) return;
              setFirst({ ...first, count: Math.min(first.count, 4) });
              setSecond(plan(other, 4));
            }}
          >
            Add a second parameter
          </button>
        )}
        <label className="flex items-center gap-1 text-xs">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={shapeOnly}
            onChange={(event) => setShapeOnly(event.target.checked)}
          />
          Without erosion (fast)
        </label>
      </header>
      <SheetGrid
        {...{ step, sweeps, shapeOnly }}
        across={second ? sweeps[0]?.values.length : undefined}
        current={sweeps.map((sweep) => valueOf(sweep.parameter))}
      />
      <FavouritesTray shapeOnly={shapeOnly} />
    </>
  );
}
