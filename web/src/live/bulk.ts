import { answered, api } from "../api/client";
import type { Recipe } from "../api/types";

/** In the place of a long list of points stands its name, which begins so: the hash
 * of what is in it. */
const NAMED = "blake3:";
const FIELD = "points";
/** The field of an operation of a patch that may be a list itself. */
const IN_PATCH = "value";
/** Lists shorter than this have no name. */
const LONG = 64;

type List = number[][];

/** Lists that are here; a name never means anything else. */
const known = new Map<string, List>();
const names = new WeakMap<object, string>();

function remember(name: string, list: List): List {
  known.set(name, list);
  names.set(list, name);
  return list;
}

/** Parts of recipes without long lists. They never change: an edit makes new ones. */
const plain = new WeakSet();

/** Walks through a value; `change` says what stands where points stand. What has none is
 * not walked through again, and stays the same object. */
function withPoints(value: unknown, change: (points: unknown) => unknown): unknown {
  return walked(value, change).value;
}

function walked(value: unknown, change: (points: unknown) => unknown) {
  const none = { value, found: false };
  if (typeof value !== "object" || value === null || plain.has(value)) return none;
  let found = false;
  const inside = (inner: unknown, key?: string): unknown => {
    if ((key === FIELD && isPoints(inner)) || (key === IN_PATCH && isName(inner))) {
      found = true;
      return change(inner);
    }
    const deeper = walked(inner, change);
    found ||= deeper.found;
    return deeper.value;
  };
  const changed = Array.isArray(value)
    ? value.map((inner) => inside(inner))
    : Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, inside(inner, key)]));
  if (found) return { value: changed, found };
  plain.add(value);
  return none;
}

function isPoints(value: unknown): boolean {
  return isName(value) || (Array.isArray(value) && value.length >= LONG);
}

function isName(value: unknown): value is string {
  return typeof value === "string" && value.startsWith(NAMED);
}

async function fetched(landscape: string, name: string): Promise<List> {
  const answer = await fetch(`/api/landscapes/${landscape}/bulk/${name}`);
  if (!answer.ok) throw new Error("A part of the landscape cannot be fetched.");
  return remember(name, (await answer.json()) as List);
}

/** The names in a part of a recipe whose lists are not here. */
function missing(value: unknown): Set<string> {
  const wanted = new Set<string>();
  withPoints(value, (points) => {
    if (isName(points) && !known.has(points)) wanted.add(points);
    return points;
  });
  return wanted;
}

/** A recipe, or a part of one, with all that was drawn by hand; what is not here yet
 * is fetched, once. */
export async function filled<T>(landscape: string, value: T): Promise<T> {
  await Promise.all([...missing(value)].map((name) => fetched(landscape, name)));
  return filledFromHere(value);
}

/** Whether all lists of a part of a recipe are here. */
export function isHere(value: unknown): boolean {
  return missing(value).size === 0;
}

/** The part of a recipe with the lists that are here in the places of their names. */
export function filledFromHere<T>(value: T): T {
  return withPoints(value, (points) =>
    isName(points) ? (known.get(points) ?? points) : points,
  ) as T;
}

/** The recipe with names in the places of the lists that have one. */
export function light(recipe: Recipe): Recipe {
  return withPoints(recipe, (points) => names.get(points as object) ?? points) as Recipe;
}

/** Lays the long lists of a recipe that have no name yet ready at the service, so
 * that each travels once. */
export async function layReady(landscape: string, recipe: Recipe) {
  const fresh = new Set<List>();
  withPoints(recipe, (points) => {
    if (Array.isArray(points) && !names.has(points)) fresh.add(points as List);
    return points;
  });
  const params = { path: { id: landscape } };
  for (const list of fresh) {
    const call = api.POST("/api/landscapes/{id}/bulk", { params, body: list });
    remember(await answered(call), list);
  }
}

/** Forgets the names of what was drawn: the service no longer knows them. */
export function forgetNames(recipe: Recipe) {
  withPoints(recipe, (points) => {
    if (Array.isArray(points)) names.delete(points);
    return points;
  });
}
