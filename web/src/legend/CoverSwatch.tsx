import type { Cover } from "../api/types";

/** One channel of linear light as sRGB, 0 to 255 (IEC 61966-2-1). */
function shown(linear: number): number {
  const v = linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
  return Math.round(255 * Math.min(1, Math.max(0, v)));
}

interface Props {
  cover: Cover;
  /** Its mean colour on the land, in linear light. */
  colour: number[] | undefined;
}

/** What a ground of a material looks like on the land; one without is its own colour. */
export function CoverSwatch({ cover, colour }: Props) {
  if (!cover.material) return null;
  const [red = 0, green = 0, blue = 0] = colour ?? [];
  const picture =
    typeof cover.material === "string"
      ? `url(/api/materials/${cover.material}/picture.png)`
      : undefined;
  return (
    <span
      className="border-base-300 h-6 w-6 shrink-0 rounded border bg-cover bg-blend-luminosity"
      style={{
        backgroundImage: picture,
        backgroundColor: colour
          ? `rgb(${shown(red)} ${shown(green)} ${shown(blue)})`
          : cover.colour,
      }}
      title="What it looks like on the land"
      data-testid={`swatch-${cover.id}`}
    />
  );
}
