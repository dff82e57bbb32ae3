import createClient from "openapi-fetch";
import type { paths } from "./schema";

export const api = createClient<paths>();

/** What the service says about a refusal, in words for people. */
export class Refusal extends Error {
  constructor(
    detail: string,
    readonly status: number,
  ) {
    super(detail);
  }
}

/** The answer's data, or a Refusal with the service's own words. */
export async function answered<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    throw new Refusal("The service cannot be reached. Nothing was changed.", 0);
  }
  const { data, error, response } = result;
  if (response.ok) return data as T;
  const detail = (error as { detail?: string } | undefined)?.detail;
  throw new Refusal(detail ?? `The service answered ${response.status}.`, response.status);
}
