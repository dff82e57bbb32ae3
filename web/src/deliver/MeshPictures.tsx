import { useRef, useState } from "react";
import { useSession } from "../live/session";
import { asMeshWish, type MeshChoice } from "./meshChoice";

const SIZE = { width: 608, height: 400 };
const DEG_PER_PX = 0.5;
const KEYS: Record<string, [number, number]> = {
  ArrowLeft: [-10, 0],
  ArrowRight: [10, 0],
  ArrowUp: [0, 5],
  ArrowDown: [0, -5],
};
const ZOOMS = [1, 2, 4, 8];

interface Camera {
  bearing: number;
  altitude: number;
  zoom: number;
}

function turned({ bearing, altitude, zoom }: Camera, by: [number, number]): Camera {
  return {
    bearing: (bearing + by[0] + 360) % 360,
    altitude: Math.min(90, Math.max(5, altitude + by[1])),
    zoom,
  };
}

interface Props {
  choice: MeshChoice;
  cells: number;
  revision: number | null;
}

/** The land as it will be, over the land in full: seen by one camera, which is dragged. */
export function MeshPictures({ choice, cells, revision }: Props) {
  const landscape = useSession((state) => state.landscape);
  const head = useSession((state) => state.head?.revision ?? null);
  const [camera, setCamera] = useState<Camera>({ bearing: 200, altitude: 35, zoom: 1 });
  const held = useRef<[number, number] | null>(null);
  const at = revision ?? head;
  if (landscape === null || at === null) return null;
  const query = new URLSearchParams({
    cells: String(cells),
    revision: String(at),
    bearing_deg: String(camera.bearing),
    altitude_deg: String(camera.altitude),
    zoom: String(camera.zoom),
    width: String(SIZE.width),
    height: String(SIZE.height),
  });
  const url = `/api/landscapes/${landscape}/mesh.png?${query}`;
  // Textures do not change the triangles.
  const mesh = JSON.stringify({ ...asMeshWish(choice), textures: null, repeat_m: null });
  return (
    <section aria-label="Triangles over the land">
      <div
        role="application"
        tabIndex={0}
        aria-label="Camera: drag, or turn with the arrow keys"
        className="cursor-grab touch-none active:cursor-grabbing"
        data-testid="mesh-camera"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = [event.clientX, event.clientY];
        }}
        onPointerMove={({ clientX, clientY }) => {
          if (!held.current) return;
          const [x, y] = held.current;
          held.current = [clientX, clientY];
          setCamera((camera) =>
            turned(camera, [(clientX - x) * DEG_PER_PX, (clientY - y) * DEG_PER_PX]),
          );
        }}
        onPointerUp={() => (held.current = null)}
        onKeyDown={(event) => {
          const by = KEYS[event.key];
          if (!by) return;
          event.preventDefault();
          setCamera((camera) => turned(camera, by));
        }}
      >
        <Steady
          url={`${url}&mesh=${encodeURIComponent(mesh)}`}
          alt="The land as it will be"
          test="mesh-picture"
        />
        <Steady url={url} alt="The land in full" test="land-picture" />
      </div>
      <div className="join mt-1">
        {ZOOMS.map((zoom) => (
          <button
            key={zoom}
            type="button"
            className={`btn btn-xs join-item ${camera.zoom === zoom ? "btn-active" : ""}`}
            aria-pressed={camera.zoom === zoom}
            onClick={() => setCamera((camera) => ({ ...camera, zoom }))}
          >
            {zoom} ×
          </button>
        ))}
      </div>
    </section>
  );
}

/** A picture that asks for the next one when it has the last, however fast it changes. */
function Steady({ url, alt, test }: { url: string; alt: string; test: string }) {
  const [asked, setAsked] = useState(url);
  const [shown, setShown] = useState<string | null>(null);
  if (shown === asked && asked !== url) setAsked(url);
  return (
    <figure className="border-base-300 -mb-px border">
      <img
        src={asked}
        alt={alt}
        draggable={false}
        width={SIZE.width}
        height={SIZE.height}
        className="block h-auto w-full select-none"
        data-testid={test}
        data-shown={shown === url}
        onLoad={() => setShown(asked)}
        onError={() => setShown(asked)}
      />
      <figcaption className="text-base-content/80 px-2 py-0.5 text-xs">{alt}</figcaption>
    </figure>
  );
}
