import { useSyncExternalStore } from "react";

const narrow = matchMedia("(max-width: 700px)");

function follow(told: () => void) {
  narrow.addEventListener("change", told);
  return () => narrow.removeEventListener("change", told);
}

/** Whether there is room for one part of the studio at a time only. */
export function useNarrow(): boolean {
  return useSyncExternalStore(follow, () => narrow.matches);
}
