import { Plus } from "lucide-react";
import type { Finish, Recipe, Wash } from "../api/types";
import { NumberField } from "../controls/NumberField";
import { commit, commitValue, preview } from "../live/edit";
import { freshId } from "../live/recipe";
import { changeView } from "../studio/view";
import { WashRow } from "./WashRow";

/** What is done to the ground as a whole, once its layers lie. */
export function WholeGround({ recipe, products }: { recipe: Recipe; products: string[] }) {
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
        <WashRow key={wash.id} {...{ wash, products }} />
      ))}
      <div className="space-y-1 p-2">
        <Part
          name="hollows"
          title="Dark hollows"
          first={{ amount: 0.5, reach_m: 300 }}
          reach={[20, 2000]}
          value={finish.hollows ?? null}
        />
        <Part
          name="shore"
          title="Wet near water"
          first={{ amount: 0.7, reach_m: 40 }}
          reach={[5, 300]}
          value={finish.shore ?? null}
        />
      </div>
    </section>
  );
}

type PartValue = NonNullable<Finish["hollows"]> & NonNullable<Finish["shore"]>;

interface PartProps {
  name: "hollows" | "shore";
  title: string;
  /** What it is when it is switched on. */
  first: PartValue;
  reach: [number, number];
  value: PartValue | null;
}

/** Something that is done to all of the ground: whether, how much, how far. */
function Part({ name, title, first, reach, value }: PartProps) {
  const put = (next: PartValue | null) => (draft: Recipe) => {
    draft.finish = { ...draft.finish, [name]: next };
  };
  const number = (
    key: keyof PartValue,
    label: string,
    field: { slider: [number, number]; unit?: string; log?: boolean },
  ) =>
    value && (
      <NumberField
        {...{ label, ...field }}
        testId={`${name}.${key}`}
        value={value[key]}
        onPreview={(to) => preview(put({ ...value, [key]: to }))}
        onCommit={(to) => void commitValue(put({ ...value, [key]: to }))}
      />
    );
  return (
    <>
      <label className="flex items-center gap-1 text-xs">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          data-testid={name}
          checked={value !== null}
          onChange={(event) => void commitValue(put(event.target.checked ? first : null))}
        />
        {title}
      </label>
      <div className="pl-5">
        {number("amount", "Amount", { slider: [0, 1] })}
        {number("reach_m", "Reach", { slider: reach, unit: "m", log: true })}
      </div>
    </>
  );
}
