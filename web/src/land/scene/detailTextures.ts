import pLimit from "p-limit";
import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import {
  DataArrayTexture,
  LinearFilter,
  LinearMipmapNearestFilter,
  RepeatWrapping,
  RGBAFormat,
} from "three";
import type { Cover } from "../../api/types";
import { useRecipe } from "../../live/recipe";
import { useSession } from "../../live/session";
import { heightLevels, meanHeight, type CoverRelief } from "./coverRelief";
import { MOST_COVERS } from "./shaders/land";

/** Texels along each side of a material close up. */
export const SIDE = 512;
const PICTURE = SIDE * SIDE * 4;

/** Materials of covers close up, a layer for each. */
export interface Details {
  grain: DataArrayTexture;
  surfaces: DataArrayTexture;
  /** For each cover: size in metres, cosine and sine of its turn, from the side. */
  lay: number[];
  /** For each cover: 1 where it is broken up, over how much of a texture's height it
   * goes over into what is below, and the mean of its heights. */
  habit: number[];
  /** What they do to the form of the land. */
  reliefs: CoverRelief[];
  count: number;
}

/** The materials of the covers `ids`, once all of them are here. */
export function useDetails(ids: string[]): Details | null {
  const landscape = useSession((state) => state.landscape);
  const recipe = useRecipe();
  const head = useSession((state) => state.head);
  const shown = ids.slice(0, MOST_COVERS);
  const covers = shown.map((id) => recipe?.covers.find((cover) => cover.id === id));
  // Of the head alone: what is not kept yet, the service does not know.
  const kept = shown.map((id) => head?.recipe.covers.find((cover) => cover.id === id));
  const bytes = useQueries({
    queries: kept.map((cover) => ({
      queryKey: ["detail", landscape, cover?.id, cover?.material ?? null],
      enabled: landscape !== null && cover !== undefined,
      staleTime: Infinity,
      queryFn: () => fetchDetail(landscape ?? "", cover?.id ?? "", head?.revision ?? 0),
    })),
    combine: (results) => ({
      all: results.map((result) => result.data),
      key: results.map((result) => result.dataUpdatedAt).join(),
    }),
  });
  const { all, key } = bytes;
  const laid = JSON.stringify(
    covers.map((cover) => [cover?.texture, cover?.displacement_m, cover?.height_blend]),
  );
  const textures = useMemo(() => {
    if (all.length === 0 || all.some((entry) => !entry)) return null;
    return {
      grain: layered(all as Uint8Array[], 0),
      surfaces: layered(all as Uint8Array[], PICTURE),
      heights: (all as Uint8Array[]).map((entry) => heightLevels(entry, SIDE)),
    };
    // The bytes of a query change only with its time.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, all.length]);
  useEffect(
    () => () => {
      textures?.grain.dispose();
      textures?.surfaces.dispose();
    },
    [textures],
  );
  return useMemo(() => {
    if (!textures) return null;
    const reliefs = covers.map((cover, k) => reliefOf(cover, textures.heights[k] ?? []));
    const habit = covers.flatMap((cover, k) => [
      (cover?.texture?.broken_up ?? true) ? 1 : 0,
      cover?.height_blend ?? 0,
      meanHeight(textures.heights[k] ?? []),
    ]);
    return { ...textures, lay: covers.flatMap(layOf), habit, reliefs, count: covers.length };
    // Covers are new objects with every edit; what is used of them rarely changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [textures, laid]);
}

function layOf(cover: Cover | undefined): number[] {
  const texture = cover?.texture;
  const turn = ((texture?.turn_deg ?? 0) * Math.PI) / 180;
  const side = (texture?.from_the_side ?? true) ? 1 : 0;
  return [texture?.size_m ?? 12, Math.cos(turn), Math.sin(turn), side];
}

function reliefOf(cover: Cover | undefined, levels: Uint8Array[]): CoverRelief {
  const [size_m = 12, cosine = 1, sine = 0, side = 1] = layOf(cover);
  return {
    levels,
    displacement_m: cover?.displacement_m ?? 0,
    size_m,
    turn: [cosine, sine],
    fromTheSide: side === 1,
    brokenUp: cover?.texture?.broken_up ?? true,
  };
}

/** So many materials are fetched at once: a browser has six connections to a service, and
 * edits must not wait behind what is only looked at. */
const inTurn = pLimit(2);

async function fetchDetail(
  landscape: string,
  cover: string,
  revision: number,
): Promise<Uint8Array> {
  const path = `/api/landscapes/${landscape}/covers/${encodeURIComponent(cover)}/detail`;
  const answer = await inTurn(() => fetch(`${path}?side=${SIDE}&revision=${revision}`));
  if (!answer.ok) throw new Error(`The material of ${cover} cannot be fetched.`);
  const bytes = new Uint8Array(await answer.arrayBuffer());
  return bytes.length === 2 * PICTURE ? bytes : enlarged(bytes);
}

/** A plain material has one texel; smaller ones are repeated to the full side. */
function enlarged(bytes: Uint8Array): Uint8Array {
  const side = Math.round(Math.sqrt(bytes.length / 8));
  const out = new Uint8Array(2 * PICTURE);
  for (let part = 0; part < 2; part++) {
    for (let row = 0; row < SIDE; row++) {
      for (let col = 0; col < SIDE; col++) {
        const from = 4 * ((part * side + Math.floor((row * side) / SIDE)) * side);
        const at = from + 4 * Math.floor((col * side) / SIDE);
        out.set(bytes.subarray(at, at + 4), part * PICTURE + 4 * (row * SIDE + col));
      }
    }
  }
  return out;
}

function layered(all: Uint8Array[], start: number): DataArrayTexture {
  const data = new Uint8Array(PICTURE * all.length);
  all.forEach((bytes, k) => data.set(bytes.subarray(start, start + PICTURE), k * PICTURE));
  const texture = new DataArrayTexture(data, SIDE, SIDE, all.length);
  texture.format = RGBAFormat;
  texture.wrapS = texture.wrapT = RepeatWrapping;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapNearestFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}
