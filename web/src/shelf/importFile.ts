import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { Imported, ImportedPicture, NewLandscape } from "../api/types";

/** Files that are read as heights. */
export const HEIGHT_FILES = ".tif,.tiff,.png,.asc";

/** Height of white, metres, for pictures, which do not say. */
const WHITE_M = 1000;
/** Side of a cell, metres, for files that do not say. */
const CELL_M = 10;

/** Makes a landscape from a dropped or chosen file; its id. */
export async function importFile(file: File): Promise<string> {
  const name = file.name.replace(/\.[^.]+$/, "") || "Imported";
  if (file.name.toLowerCase().endsWith(".json")) {
    let recipe: unknown;
    try {
      recipe = JSON.parse(await file.text());
    } catch {
      throw new Error(`${file.name} is not JSON. Nothing was changed.`);
    }
    const title = (recipe as { name?: string } | null)?.name ?? name;
    return create({ name: title, start: { recipe: recipe as never } });
  }
  const imported = await upload(file);
  return create({
    name,
    start: {
      heightfield: {
        asset: imported.id,
        width_m: imported.width_m ?? imported.cols * CELL_M,
        depth_m: imported.depth_m ?? imported.rows * CELL_M,
        scale: imported.white ? WHITE_M / imported.white : 1,
      },
    },
  });
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

async function upload(file: File): Promise<Imported> {
  return answered(
    api.POST("/api/assets", {
      params: { query: { name: file.name } },
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
