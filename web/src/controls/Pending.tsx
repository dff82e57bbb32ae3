/** Marks what is shown as it is meant to be, and is still on its way to the service. */
export function Pending() {
  return (
    <span
      className="loading loading-ring loading-xs text-primary shrink-0"
      role="img"
      aria-label="not kept yet"
      title="On its way; not kept yet"
      data-testid="pending"
    />
  );
}
