import type { Recipe, Step } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { ChoiceField } from "../controls/ChoiceField";
import { NumberField } from "../controls/NumberField";
import { commitValue, preview } from "../live/edit";

const BLENDED = ["highest", "lowest"];
const SCALED = ["screen", "overlay"];
const FULL_M = 1000;

interface Props {
  step: Step;
  on: (change: (target: Step) => void) => (draft: Recipe) => void;
}

/** How a step joins what is there already, and how much of it. */
export function JoinFields({ step, on }: Props) {
  const { combines } = useCatalogue();
  const number = (label: string, field: "amount" | "blend_m" | "full_m") => ({
    label,
    testId: `${step.id}.${field}`,
    onPreview: (value: number) => preview(on((target) => void (target[field] = value))),
    onCommit: (value: number) => void commitValue(on((target) => void (target[field] = value))),
  });
  return (
    <div className="space-y-1.5">
      <ChoiceField
        label="Combine"
        testId={`${step.id}.combine`}
        value={step.combine ?? "replace"}
        choices={combines.map((value) => ({ value }))}
        onCommit={(value) =>
          void commitValue(on((target) => void (target.combine = value as Step["combine"])))
        }
      />
      {BLENDED.includes(step.combine ?? "") && (
        <NumberField
          {...number("Blend", "blend_m")}
          hint="Over how much the two go over into one another"
          unit="m"
          slider={[0, 400]}
          standard={0}
          value={step.blend_m ?? 0}
        />
      )}
      {SCALED.includes(step.combine ?? "") && (
        <NumberField
          {...number("White", "full_m")}
          hint="The height that counts as white"
          unit="m"
          slider={[100, 3000]}
          standard={FULL_M}
          value={step.full_m ?? FULL_M}
        />
      )}
      <NumberField
        {...number("Amount", "amount")}
        slider={[0, 1]}
        standard={1}
        value={step.amount ?? 1}
      />
    </div>
  );
}
