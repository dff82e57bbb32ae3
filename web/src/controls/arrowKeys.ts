/** Steps to the right and up. */
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** How far an arrow key moves a handle, to the right and up: one step, with Shift ten;
 * nothing for other keys. The page does not scroll. */
export function arrowSteps(event: React.KeyboardEvent): [number, number] | null {
  const arrow = STEPS[event.key];
  if (!arrow) return null;
  event.preventDefault();
  const size = event.shiftKey ? 10 : 1;
  return [size * arrow[0], size * arrow[1]];
}

/** Whether a key takes a handle away. */
export function removes({ key }: React.KeyboardEvent): boolean {
  return key === "Delete" || key === "Backspace";
}
