import type { DrawnPoint } from "../api/types";

/** A course as a GeoJSON file (RFC 7946), in metres east and north of the land’s south-west
 * corner, and not in degrees, which a land need not have. */
export function courseFile(points: DrawnPoint[]): string {
  const feature = {
    type: "Feature",
    properties: {
      unit: "m",
      wide: points.map(({ wide }) => wide ?? 1),
      high: points.map(({ high }) => high ?? 1),
      steep: points.map(({ steep }) => steep ?? 1),
    },
    geometry: { type: "LineString", coordinates: points.map(({ x_m, y_m }) => [x_m, y_m]) },
  };
  return `data:application/geo+json,${encodeURIComponent(JSON.stringify(feature))}`;
}

interface Geo {
  type?: string;
  features?: Geo[];
  geometry?: Geo;
  coordinates?: unknown;
  properties?: { wide?: number[]; high?: number[]; steep?: number[] } | null;
}

/** The course in a GeoJSON file: its first line. */
export function courseOf(text: string): DrawnPoint[] {
  const found = lineIn(parsed(text), null);
  if (!found) throw new Error("There is no line in this file: a GeoJSON LineString is wanted.");
  const points = found.coordinates.map((place, i) => {
    const [x_m, y_m] = Array.isArray(place) ? (place as unknown[]) : [];
    if (typeof x_m !== "number" || typeof y_m !== "number") {
      throw new Error(`Point ${i + 1} of the line has no two numbers.`);
    }
    const { wide, high, steep } = found.properties ?? {};
    return {
      x_m,
      y_m,
      ...factor("wide", wide?.[i]),
      ...factor("high", high?.[i]),
      ...factor("steep", steep?.[i]),
    };
  });
  if (points.length < 2) throw new Error("The line in this file has fewer than two points.");
  return points;
}

const factor = (name: string, value: number | undefined) =>
  typeof value === "number" && value !== 1 ? { [name]: value } : {};

function parsed(text: string): Geo {
  try {
    return JSON.parse(text) as Geo;
  } catch {
    throw new Error("This is no GeoJSON file.");
  }
}

function lineIn(
  geo: Geo,
  properties: Geo["properties"],
): { coordinates: unknown[]; properties: Geo["properties"] } | null {
  const own = geo.properties ?? properties;
  if (geo.type === "LineString" && Array.isArray(geo.coordinates)) {
    return { coordinates: geo.coordinates as unknown[], properties: own };
  }
  for (const inner of [...(geo.features ?? []), ...(geo.geometry ? [geo.geometry] : [])]) {
    const found = lineIn(inner, own);
    if (found) return found;
  }
  return null;
}
