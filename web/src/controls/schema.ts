/** The part of JSON Schema that parameters use. */
export interface ParameterSchema {
  type?: string | string[];
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
  "x-editor"?: "curve" | "asset" | "strand" | "outline" | "mask";
  /** A coordinate of a place: its slider goes over the land. */
  "x-place"?: "x" | "y";
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

/** “feature_m” as it stands before its field: “Feature”. */
export function labelOf(name: string): string {
  const plain = name.replace(/_(m|deg|mm_h|kyr|m_kyr|s)$/, "").replaceAll("_", " ");
  return plain.charAt(0).toUpperCase() + plain.slice(1);
}
