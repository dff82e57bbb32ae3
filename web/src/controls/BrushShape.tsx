import type { Brush } from "../tools/tool";
import { NumberField } from "./NumberField";

interface Props {
  brush: Brush;
  testId: string;
  onChange: (brush: Partial<Brush>) => void;
}

/** Size, strength and softness of a brush. */
export function BrushShape({ brush, testId, onChange }: Props) {
  const field = (name: keyof Brush, label: string, rest: { unit?: string; log?: boolean }) => (
    <NumberField
      {...{ label, ...rest }}
      testId={`${testId}.${name}`}
      slider={name === "size_m" ? [20, 4000] : [0, 1]}
      min={name === "size_m" ? 0.01 : 0}
      max={name === "size_m" ? 1e6 : 1}
      value={brush[name]}
      onPreview={(value) => onChange({ [name]: value })}
      onCommit={(value) => onChange({ [name]: value })}
    />
  );
  return (
    <>
      {field("size_m", "Size", { unit: "m", log: true })}
      {field("strength", "Strength", {})}
      {field("softness", "Softness", {})}
    </>
  );
}
