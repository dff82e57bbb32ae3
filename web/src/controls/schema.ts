/** The part of JSON Schema that parameters use. */
export interface ParameterSchema {
  type?: string | string[];
  /** What it is called. */
  title?: string;
  description?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  oneOf?: { const?: string; description?: string }[];
  enum?: string[];
  $ref?: string;
  "x-unit"?: string;
  "x-slider"?: [number, number];
  "x-scale"?: "log";
  "x-editor"?: "curve" | "asset" | "strand" | "outline" | "mask" | "strokes" | "course";
  /** A coordinate of a place: its slider goes over the land. */
  "x-place"?: "x" | "y";
  /** Begins as this share of the longer side of the land. */
  "x-of-land"?: number;
  /** Its points are drawn on a land of this size, metres east and north. */
  "x-drawn-on"?: [number, number];
  /** Shown only when the parameter named first has one of these values. */
  "x-when"?: string[];
  /** May be left empty. */
  "x-optional"?: boolean;
  /** Folded away until it is asked for. */
  "x-more"?: boolean;
}

export interface KindSchema {
  description?: string;
  properties?: Record<string, ParameterSchema>;
  $defs?: Record<string, ParameterSchema>;
}

/** A parameter's schema with its reference followed. */
export function resolved(kind: KindSchema, schema: ParameterSchema): ParameterSchema {
  const name = schema.$ref?.split("/").pop();
  const target = name ? kind.$defs?.[name] : undefined;
  return target ? { ...target, ...schema } : schema;
}

/** The choices of a parameter that is one of a few words. */
export function choicesOf(schema: ParameterSchema) {
  if (schema.oneOf) {
    return schema.oneOf.flatMap(({ const: value, description }) =>
      value === undefined ? [] : [{ value, hint: description }],
    );
  }
  return schema.enum?.map((value) => ({ value, hint: undefined })) ?? null;
}

interface LandSize {
  width_m: number;
  depth_m: number;
}

/** The middle of the land along the axis that a parameter is a coordinate on; null for what is
 * none. */
function middleOf(entry: ParameterSchema, { width_m, depth_m }: LandSize): number | null {
  const place = entry["x-place"];
  return place ? Math.round(place === "x" ? width_m / 2 : depth_m / 2) : null;
}

/** Points that are drawn on a land of one size, on one of another. */
function drawnOn(points: unknown, from: [number, number], { width_m, depth_m }: LandSize) {
  const on = (at: number, was: number, is: number) => Math.round((at / was) * is);
  return (points as { x_m: number; y_m: number }[]).map((point) => ({
    ...point,
    x_m: on(point.x_m, from[0], width_m),
    y_m: on(point.y_m, from[1], depth_m),
  }));
}

/** The parameters that a kind begins with on a land of this size: in the middle of it, and
 * as large as suits it. */
export function begunOn(
  { defaults, schema }: { defaults: unknown; schema: unknown },
  { width_m, depth_m }: LandSize,
): Record<string, unknown> {
  const begun = { ...(defaults as Record<string, unknown>) };
  for (const [name, entry] of Object.entries((schema as KindSchema).properties ?? {})) {
    const share = entry["x-of-land"];
    const middle = middleOf(entry, { width_m, depth_m });
    const drawn = entry["x-drawn-on"];
    if (middle !== null) begun[name] = middle;
    if (drawn) begun[name] = drawnOn(begun[name], drawn, { width_m, depth_m });
    if (share) begun[name] = Number((share * Math.max(width_m, depth_m)).toPrecision(2));
  }
  return begun;
}

/** Parameters of a ready combination: what stands in no particular place stands in the middle
 * of this land, and what is drawn goes over as much of it. */
export function inTheMiddle(
  { defaults, schema }: { defaults: unknown; schema: unknown },
  values: Record<string, unknown>,
  extent: LandSize,
): Record<string, unknown> {
  const placed = { ...values };
  for (const [name, entry] of Object.entries((schema as KindSchema).properties ?? {})) {
    const middle = middleOf(entry, extent);
    const unsaid = values[name] === (defaults as Record<string, unknown>)[name];
    const drawn = entry["x-drawn-on"];
    if (middle !== null && unsaid) placed[name] = middle;
    if (drawn) placed[name] = drawnOn(values[name], drawn, extent);
  }
  return placed;
}

/** “feature_m” as it stands before its field: “Feature”. */
export function labelOf(name: string): string {
  const plain = name.replace(/_(m|deg|mm_h|kyr|m_kyr|s)$/, "").replaceAll("_", " ");
  return plain.charAt(0).toUpperCase() + plain.slice(1);
}
