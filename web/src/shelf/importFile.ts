import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { Imported, ImportedPicture, NewLandscape } from "../api/types";

/** Files that are read as heights. */
export const HEIGHT_FILES = ".tif,.tiff,.exr,.png,.jpg,.jpeg,.asc,.raw,.r16";

/** Height of white, metres, for pictures, which do not say. */
export const WHITE_M = 1000;
/** Side of a cell, metres, for files that do not say. */
export const CELL_M = 10;

/** Whether a file may have heights in it, by its name. */
export const isHeights = ({ name }: File) => /\.(tiff?|exr|png|jpe?g|asc|raw|r16)$/i.test(name);

/** Whether a file is one of raw steps, which does not say how many are in a row. */
export const isRaw = ({ name }: File) => /\.(raw|r16)$/i.test(name);

/** Whether a file may be a recipe, by its name. */
export const isRecipe = ({ name }: File) => /\.json$/i.test(name);

/** A file's name as that of a landscape. */
export const nameOf = ({ name }: File) => name.replace(/\.[^.]+$/, "") || "Imported";

/** Makes a landscape from a file with a recipe; its id. */
export async function importRecipe(file: File): Promise<string> {
  let recipe: unknown;
  try {
    recipe = JSON.parse(await file.text());
  } catch {
    throw new Error(`${file.name} is not JSON. Nothing was changed.`);
  }
  const title = (recipe as { name?: string } | null)?.name ?? nameOf(file);
  return create({ name: title, start: { recipe: recipe as never } });
}

/** What a step needs to know of an imported file. */
export interface ImportedFile extends Record<string, unknown> {
  asset: string;
  /** Metres for each unit. */
  scale: number;
  /** The value of white. */
  white: number;
}

/** Imports a file for a step; `take` gets it, unless the service refuses it. */
export async function importInto(file: File, take: (found: ImportedFile) => void) {
  try {
    const imported = await upload(file);
    take({
      asset: imported.id,
      scale: imported.white ? WHITE_M / imported.white : 1,
      white: imported.white ?? imported.high,
    });
  } catch (error) {
    toast.error(error instanceof Error ? error.message : String(error), { duration: 10_000 });
  }
}

/** Files that are read as pictures. */
export const PICTURE_FILES = ".png,.jpg,.jpeg,.tif,.tiff";

/** Imports a picture; null, after a message, when the service refuses it. */
export async function importPicture(file: File): Promise<ImportedPicture | null> {
  try {
    return await answered(
      api.POST("/api/pictures", {
        params: { query: { name: file.name } },
        body: file as never,
        bodySerializer: (body) => body as never,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    );
  } catch (error) {
    toast.error(error instanceof Error ? error.message : String(error), { duration: 10_000 });
    return null;
  }
}

/** Sends a file with heights, a raw one with so many steps in a row; what the service found
 * in it. */
export async function upload(file: File, cols?: number): Promise<Imported> {
  return answered(
    api.POST("/api/assets", {
      params: { query: { name: file.name, cols } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
}

export async function create(body: NewLandscape): Promise<string> {
  const { id } = await answered(api.POST("/api/landscapes", { body }));
  return id;
}
