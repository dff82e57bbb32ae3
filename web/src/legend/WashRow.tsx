import type { Recipe, Wash } from "../api/types";
import { MaskEditor } from "../controls/MaskEditor";
import { NumberField } from "../controls/NumberField";
import { commit, commitValue, preview } from "../live/edit";
import { useView } from "../studio/view";
import { NameRow } from "./NameRow";
import { IsOn, OwnColour } from "./RowParts";
import { OpenButton } from "./OpenButton";

/** A colour that water carries downhill: where from, how far, how strongly. */
export function WashRow({ wash, products }: { wash: Wash; products: string[] }) {
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
      onCommit={(value) => void commitValue(on((target) => void (target[key] = value)))}
    />
  );
  const setMask = (mask: Wash["mask"] | undefined) =>
    on((target) => void (target.mask = mask ?? { terms: [] }));
  return (
    <article className="border-base-300 border-b" data-testid={`wash-${wash.id}`}>
      <div className="flex items-center gap-1.5 p-1.5">
        <IsOn row={wash} edit={on} />
        <OwnColour row={wash} edit={on} />
        <OpenButton owner={wash.id} name={wash.name} />
      </div>
      {open && (
        <div className="bg-base-200 space-y-2 p-2">
          <NameRow
            name={wash.name}
            onRename={(name) =>
              void commit(
                `Rename ${wash.name}`,
                on((target) => void (target.name = name)),
              )
            }
            without={(draft) => {
              const washes = (draft.finish?.washes ?? []).filter(({ id }) => id !== wash.id);
              draft.finish = { ...draft.finish, washes };
            }}
          />
          {number("distance_m", "Distance", { slider: [20, 3000], unit: "m", log: true })}
          {number("amount", "Amount", { slider: [0, 1] })}
          <MaskEditor
            owner={wash.id}
            mask={wash.mask}
            products={products}
            onPreview={(mask) => preview(setMask(mask))}
            onCommit={(mask) => void commitValue(setMask(mask))}
          />
        </div>
      )}
    </article>
  );
}
