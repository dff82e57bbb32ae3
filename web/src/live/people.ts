import { create } from "zustand";
import { say } from "./session";

/** By this name the artist's own is kept, on this machine. */
const KEPT = "my name";

/** What the artist here calls themselves; may be empty. */
export const useMyName = create(() => ({ name: localStorage.getItem(KEPT) ?? "" }));

export const myName = () => useMyName.getState().name;

/** How somebody is called who does not say. */
export const called = (name: string) => name || "Somebody";

let where: [number, number] | null = null;

export function callMe(name: string) {
  localStorage.setItem(KEPT, name);
  useMyName.setState({ name });
  sayWhere(where);
}

/** Tells the others who is here and where they look, metres east and north. */
export function sayWhere(at: [number, number] | null) {
  where = at;
  say({ type: "here", name: myName(), at });
}
