import type { Cover } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { ChoiceField } from "../controls/ChoiceField";
import { NumberField } from "../controls/NumberField";
import { GradientFields } from "./GradientFields";
import { MaterialField } from "./MaterialField";
import { PatchFields } from "./PatchFields";

interface Props {
  cover: Cover;
  bottom: boolean;
  onPreview: (change: (target: Cover) => void) => void;
  onCommit: (change: (target: Cover) => void) => void;
}

type Texture = NonNullable<Cover["texture"]>;
const TEXTURE: Texture = {
  size_m: 12,
  turn_deg: 0,
  broken_up: true,
  from_the_side: true,
  tint: 0,
  hue_deg: 0,
  saturation: 1,
  lightness: 1,
};

/** What a cover is made of, and how it lies on what is below. */
export function CoverFields({ cover, bottom, onPreview, onCommit }: Props) {
  const { blends } = useCatalogue();
  const texture = { ...TEXTURE, ...cover.texture };
  const set = (key: keyof Texture, value: number | boolean) => (target: Cover) => {
    target.texture = { ...TEXTURE, ...target.texture, [key]: value };
  };
  const number = (
    key: "size_m" | "turn_deg" | "tint" | "hue_deg" | "saturation" | "lightness",
    label: string,
    slider: [number, number],
    more: { unit?: string; log?: boolean; hint?: string } = {},
  ) => (
    <NumberField
      {...{ label, slider, ...more }}
      standard={TEXTURE[key] ?? 0}
      testId={`${cover.id}.${key}`}
      value={texture[key] ?? 0}
      onPreview={(value) => onPreview(set(key, value))}
      onCommit={(value) => onCommit(set(key, value))}
    />
  );
  const own = (
    key: "opacity" | "height_blend" | "displacement_m",
    label: string,
    slider: [number, number],
    standard: number,
    hint: string,
    unit?: string,
  ) => (
    <NumberField
      {...{ label, slider, standard, hint, unit }}
      testId={`${cover.id}.${key}`}
      value={cover[key] ?? standard}
      onPreview={(value) => onPreview((target) => void (target[key] = value))}
      onCommit={(value) => onCommit((target) => void (target[key] = value))}
    />
  );
  const tick = (key: "broken_up" | "from_the_side", label: string) => (
    <label className="flex items-center gap-1 text-xs">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={texture[key] ?? true}
        onChange={(event) => onCommit(set(key, event.target.checked))}
      />
      {label}
    </label>
  );
  return (
    <div className="space-y-1">
      <MaterialField {...{ cover, onCommit }} />
      {cover.material && (
        <>
          {number("size_m", "Texture size", [1, 200], { unit: "m", log: true })}
          {number("tint", "Own colour", [0, 1], {
            hint: "At 1 the cover’s colour with the material’s grain",
          })}
        </>
      )}
      {!bottom && (
        <>
          {own("opacity", "Opacity", [0, 1], 1, "How much of it where its mask is full")}
          {own(
            "height_blend",
            "Height blend",
            [0, 1],
            0,
            "The higher texture pokes through; over how much the two go over into one another",
          )}
          <ChoiceField
            label="Blend"
            choices={blends.map((value) => ({ value }))}
            testId={`${cover.id}.blend`}
            value={cover.blend ?? "normal"}
            onCommit={(blend) =>
              onCommit((target) => {
                target.blend = blend as Cover["blend"];
              })
            }
          />
        </>
      )}
      {cover.material && (
        <details>
          <summary className="cursor-pointer text-xs">Texture and colour</summary>
          <div className="space-y-1 pt-1">
            {number("turn_deg", "Turned", [-180, 180], { unit: "°" })}
            {number("hue_deg", "Hue", [-180, 180], { unit: "°" })}
            {number("saturation", "Saturation", [0, 2])}
            {number("lightness", "Lightness", [0, 2])}
            {own(
              "displacement_m",
              "Relief",
              [0, 4],
              0,
              "How far its highest stands above its lowest, in maps of displacement and directions",
              "m",
            )}
            {tick("broken_up", "Break up repeats")}
            {tick("from_the_side", "Steep faces from the side")}
          </div>
        </details>
      )}
      <details>
        <summary className="cursor-pointer text-xs">Colours over the land</summary>
        <div className="space-y-1 pt-1">
          <GradientFields {...{ cover, onPreview, onCommit }} />
          <PatchFields {...{ cover, onPreview, onCommit }} />
        </div>
      </details>
    </div>
  );
}
