const FACTORS: Record<string, Record<string, number>> = {
  m: { mm: 0.001, cm: 0.01, m: 1, km: 1000, ft: 0.3048 },
  "mm/h": { "mm/h": 1, "cm/h": 10 },
  "°": { "°": 1, deg: 1 },
};

/** Reads a number as typed, with or without a unit: “1.2km” is 1200 for m. */
export function parseQuantity(text: string, unit: string | undefined): number | null {
  const match = /^\s*([-+]?[\d.,]+(?:e[-+]?\d+)?)\s*([^\d\s]*)\s*$/i.exec(text);
  if (!match) return null;
  const value = Number((match[1] ?? "").replace(",", "."));
  const suffix = match[2] ?? "";
  const factor = suffix === "" ? 1 : FACTORS[unit ?? ""]?.[suffix];
  return Number.isFinite(value) && factor !== undefined ? value * factor : null;
}

/** A number with as many digits as an artist needs. */
export function formatNumber(value: number): string {
  const size = Math.abs(value);
  const digits = size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3;
  return String(Number(value.toFixed(digits)));
}

/** Metres, or kilometres when there are many. */
export function formatLength(metres: number): string {
  return Math.abs(metres) >= 10_000
    ? `${formatNumber(metres / 1000)} km`
    : `${formatNumber(metres)} m`;
}

/** “12 × 8 km”, or in metres where that is less. */
export function formatSize(width_m: number, depth_m: number): string {
  return Math.max(width_m, depth_m) >= 10_000
    ? `${formatNumber(width_m / 1000)} × ${formatNumber(depth_m / 1000)} km`
    : `${formatNumber(width_m)} × ${formatNumber(depth_m)} m`;
}

const CUBIC_KM = 1e9;

/** A count with its noun: one setting, two settings. */
export function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? "" : "s"}`;
}

/** A volume with its unit. */
export function volume(cubicMetres: number): string {
  const size = Math.abs(cubicMetres);
  const sign = cubicMetres < 0 ? "−" : "";
  return size >= 0.001 * CUBIC_KM
    ? `${sign}${(size / CUBIC_KM).toFixed(3)} km³`
    : `${sign}${Math.round(size).toLocaleString("en")} m³`;
}
