import { NumberField } from "./NumberField";

/** Noise as recipes have it wherever it breaks something up. */
export interface Noise {
  amount: number;
  feature_m: number;
  seed: number;
}

interface Props {
  noise: Noise;
  onPreview: (change: Partial<Noise>) => void;
  onCommit: (change: Partial<Noise>) => void;
}

/** How much of a noise, how large, and which of its variants. */
export function NoiseFields({ noise, onPreview, onCommit }: Props) {
  return (
    <>
      <NumberField
        label="Amount"
        slider={[0, 1]}
        value={noise.amount}
        onPreview={(amount) => onPreview({ amount })}
        onCommit={(amount) => onCommit({ amount })}
      />
      <NumberField
        label="Feature"
        unit="m"
        slider={[5, 2000]}
        log
        value={noise.feature_m}
        onPreview={(feature_m) => onPreview({ feature_m })}
        onCommit={(feature_m) => onCommit({ feature_m })}
      />
      <NumberField
        label="Seed"
        slider={[0, 99]}
        whole
        value={noise.seed}
        onPreview={(seed) => onPreview({ seed })}
        onCommit={(seed) => onCommit({ seed })}
      />
    </>
  );
}
