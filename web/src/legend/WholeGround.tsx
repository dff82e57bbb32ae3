import { ChevronDown, ChevronRight, Plus, Trash2 } from "lucide-react";
import type { Finish, Recipe, Wash } from "../api/types";
import { ColourInput } from "../controls/ColourInput";
import { MaskEditor } from "../controls/MaskEditor";
import { NumberField } from "../controls/NumberField";
import { commit, preview } from "../live/edit";
import { freshId } from "../live/recipe";
import { changeView, useView } from "../studio/view";

const HOLLOWS = { amount: 0.5, reach_m: 300 };
const SHORE = { amount: 0.7, reach_m: 40 };

type Parts = Required<Pick<Finish, "hollows" | "shore">>;

/** What is done to the ground as a whole, once its layers lie. */
export function WholeGround({ recipe, traces }: { recipe: Recipe; traces: string[] }) {
  const finish = recipe.finish ?? {};
  const add = () => {
    const id = freshId(recipe, "wash");
    const wash: Wash = {
      id,
      name: "Wash",
      on: true,
      colour: "#6f4a2c",
      distance_m: 400,
      amount: 0.6,
      mask: {
        terms: [
          { of: "slope", from: 40, soft_from: 8, soft_to: 0, invert: false, join: "multiply" },
        ],
      },
    };
    void commit("Add a wash", (draft) => {
      draft.finish = { ...draft.finish, washes: [...(draft.finish?.washes ?? []), wash] };
    });
    changeView({ openBand: id });
  };
  const set =
    <K extends keyof Parts>(key: K, value: Parts[K]) =>
    (draft: Recipe) => {
      draft.finish = { ...draft.finish, [key]: value };
    };
  const hollows = finish.hollows ?? null;
  const shore = finish.shore ?? null;
  return (
    <section aria-label="Whole ground">
      <header className="border-base-300 flex items-center justify-between border-y px-2 py-1">
        <h3 className="text-sm font-semibold">Whole ground</h3>
        <button
          type="button"
          className="btn btn-xs"
          data-testid="add-wash"
          title="Colour that water carries downhill"
          onClick={add}
        >
          <Plus size={13} /> Wash
        </button>
      </header>
      {(finish.washes ?? []).map((wash) => (
        <WashRow key={wash.id} {...{ wash, traces }} />
      ))}
      <div className="space-y-1 p-2">
        <Tick
          label="Dark hollows"
          on={hollows !== null}
          testId="hollows"
          onToggle={(on) => void commit("Dark hollows", set("hollows", on ? HOLLOWS : null))}
        />
        {hollows && (
          <div className="pl-5">
            <NumberField
              label="Amount"
              slider={[0, 1]}
              value={hollows.amount}
              onPreview={(amount) => preview(set("hollows", { ...hollows, amount }))}
              onCommit={(amount) =>
                void commit("Dark hollows", set("hollows", { ...hollows, amount }))
              }
            />
            <NumberField
              label="Reach"
              unit="m"
              slider={[20, 2000]}
              log
              value={hollows.reach_m}
              onPreview={(reach_m) => preview(set("hollows", { ...hollows, reach_m }))}
              onCommit={(reach_m) =>
                void commit("Dark hollows", set("hollows", { ...hollows, reach_m }))
              }
            />
          </div>
        )}
        <Tick
          label="Wet near water"
          on={shore !== null}
          testId="shore"
          onToggle={(on) => void commit("Wet near water", set("shore", on ? SHORE : null))}
        />
        {shore && (
          <div className="pl-5">
            <NumberField
              label="Amount"
              slider={[0, 1]}
              value={shore.amount}
              onPreview={(amount) => preview(set("shore", { ...shore, amount }))}
              onCommit={(amount) =>
                void commit("Wet near water", set("shore", { ...shore, amount }))
              }
            />
            <NumberField
              label="Reach"
              unit="m"
              slider={[5, 300]}
              log
              value={shore.reach_m}
              onPreview={(reach_m) => preview(set("shore", { ...shore, reach_m }))}
              onCommit={(reach_m) =>
                void commit("Wet near water", set("shore", { ...shore, reach_m }))
              }
            />
          </div>
        )}
      </div>
    </section>
  );
}

interface TickProps {
  label: string;
  on: boolean;
  testId: string;
  onToggle: (on: boolean) => void;
}

function Tick({ label, on, testId, onToggle }: TickProps) {
  return (
    <label className="flex items-center gap-1 text-xs">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        data-testid={testId}
        checked={on}
        onChange={(event) => onToggle(event.target.checked)}
      />
      {label}
    </label>
  );
}

function WashRow({ wash, traces }: { wash: Wash; traces: string[] }) {
  const open = useView((view) => view.openBand === wash.id);
  const on = (change: (target: Wash) => void) => (draft: Recipe) => {
    const target = draft.finish?.washes?.find((other) => other.id === wash.id);
    if (target) change(target);
  };
  const number = (
    key: "distance_m" | "amount",
    label: string,
    field: { slider: [number, number]; unit?: string; log?: boolean },
  ) => (
    <NumberField
      {...{ label, ...field }}
      testId={`${wash.id}.${key}`}
      value={wash[key]}
      onPreview={(value) => preview(on((target) => void (target[key] = value)))}
      onCommit={(value) =>
        void commit(
          `${label} of ${wash.name}`,
          on((target) => void (target[key] = value)),
        )
      }
    />
  );
  return (
    <article className="border-base-300 border-b" data-testid={`wash-${wash.id}`}>
      <div className="flex items-center gap-1.5 p-1.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label={`${wash.name} is on`}
          checked={wash.on}
          onChange={(event) => {
            const value = event.target.checked;
            void commit(
              `${value ? "Switch on" : "Switch off"} ${wash.name}`,
              on((t) => void (t.on = value)),
            );
          }}
        />
        <ColourInput
          label={`Colour of ${wash.name}`}
          colour={wash.colour}
          onCommit={(colour) =>
            void commit(
              `Colour of ${wash.name}`,
              on((t) => void (t.colour = colour)),
            )
          }
        />
        <button
          type="button"
          className="flex min-w-0 grow items-center gap-1 text-left text-sm"
          aria-expanded={open}
          onClick={() => changeView({ openBand: open ? null : wash.id })}
        >
          <span className="grow truncate">{wash.name}</span>
          {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      </div>
      {open && (
        <div className="bg-base-200 space-y-2 p-2">
          <div className="flex items-center gap-1">
            <input
              className="input input-xs grow"
              aria-label="Name"
              defaultValue={wash.name}
              onBlur={(event) => {
                const name = event.target.value.trim();
                if (name && name !== wash.name)
                  void commit(
                    `Rename ${wash.name}`,
                    on((t) => void (t.name = name)),
                  );
              }}
            />
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Delete ${wash.name}`}
              onClick={() =>
                void commit(`Delete ${wash.name}`, (draft) => {
                  const washes = draft.finish?.washes ?? [];
                  draft.finish = {
                    ...draft.finish,
                    washes: washes.filter((other) => other.id !== wash.id),
                  };
                })
              }
            >
              <Trash2 size={13} />
            </button>
          </div>
          {number("distance_m", "Distance", { slider: [20, 3000], unit: "m", log: true })}
          {number("amount", "Amount", { slider: [0, 1] })}
          <MaskEditor
            owner={wash.id}
            mask={wash.mask}
            traces={traces}
            onPreview={(mask) => preview(on((t) => void (t.mask = mask ?? { terms: [] })))}
            onCommit={(mask) =>
              void commit(
                `Source of ${wash.name}`,
                on((t) => void (t.mask = mask ?? { terms: [] })),
              )
            }
          />
        </div>
      )}
    </article>
  );
}
