/** Whether a key was meant, whatever the keyboard: by what it writes, and where a layout
 * writes no such letter, by where it is. */
export function isKey(event: KeyboardEvent, combination: string): boolean {
  const parts = combination.split("+").filter((part) => part !== "");
  const key = parts.at(-1) ?? "+";
  const wants = (modifier: "mod" | "shift" | "alt") => parts.slice(0, -1).includes(modifier);
  const written = event.key.toLowerCase();
  const isSign = key.length === 1 && !/[a-z0-9]/.test(key);
  if ((event.ctrlKey || event.metaKey) !== wants("mod")) return false;
  // How a sign is reached differs from keyboard to keyboard.
  if (!isSign && event.shiftKey !== wants("shift")) return written === key && /\d/.test(key);
  if (!isSign && event.altKey !== wants("alt")) return false;
  if (written === key) return true;
  const hasLetter = /^[a-z]$/.test(written);
  if (/^[a-z]$/.test(key)) return !hasLetter && event.code === `Key${key.toUpperCase()}`;
  return /^\d$/.test(key) && !/^[a-z0-9]$/.test(written) && event.code === `Digit${key}`;
}

/** A combination as it is pressed, to be kept for something; null for a modifier alone. */
export function combinationOf(event: KeyboardEvent): string | null {
  const key = event.key.toLowerCase();
  if (["control", "shift", "alt", "meta", "altgraph", "dead"].includes(key)) return null;
  const isSign = key.length === 1 && !/[a-z0-9]/.test(key);
  const parts = [
    ...(event.ctrlKey || event.metaKey ? ["mod"] : []),
    ...(event.shiftKey && !isSign ? ["shift"] : []),
    ...(event.altKey && !isSign ? ["alt"] : []),
    key === " " ? "space" : key,
  ];
  return parts.join("+");
}

/** “mod+shift+z” as it stands on a keyboard. */
export function spelled(combination: string): string {
  const word = (part: string) =>
    ({ mod: "Ctrl", shift: "Shift", alt: "Alt", escape: "Esc", home: "Home" })[part] ??
    (part.length === 1 ? part.toUpperCase() : part.charAt(0).toUpperCase() + part.slice(1));
  return combination === "+" ? "+" : combination.split("+").map(word).join(" + ");
}
