import { useQueryClient } from "@tanstack/react-query";
import type { Cover } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { FileButton } from "../controls/FileButton";
import { useAssetName } from "../controls/useAssetName";
import { importPicture, PICTURE_FILES } from "../shelf/importFile";

interface Props {
  cover: Cover;
  onCommit: (change: (target: Cover) => void) => void;
}

const MAPS = ["albedo", "normal", "roughness", "occlusion", "height"] as const;
type MapName = (typeof MAPS)[number];
type Images = Partial<Record<MapName, string>>;

/** Words in file names by which maps are told apart: common practice. */
const WORDS: Record<MapName, RegExp> = {
  albedo: /albedo|colou?r|diffuse|basecolou?r/i,
  normal: /normal|nrm|nor(?=[_.-])/i,
  roughness: /rough/i,
  occlusion: /occlusion|(^|[_-])ao([_.-]|$)/i,
  height: /height|displacement|disp|bump/i,
};

/** What a cover is made of: one that ships, imported maps, or a plain colour. */
export function MaterialField({ cover, onCommit }: Props) {
  const client = useQueryClient();
  const { materials } = useCatalogue();
  const { material } = cover;
  const images: Images | null = typeof material === "object" && material ? material.images : null;
  const choose = (value: string) =>
    onCommit((target) => {
      if (value === "images") target.material = { images: {} };
      else if (value) target.material = value as Cover["material"];
      else delete target.material;
    });
  const setMaps = (maps: Images) => {
    onCommit((target) => {
      target.material = { images: { ...images, ...maps } };
    });
    void client.invalidateQueries({ queryKey: ["detail"] });
  };
  /** Several files at once are told apart by their names. */
  const take = async (files: File[], only: MapName | null) => {
    const maps: Images = {};
    for (const file of files) {
      const name = only ?? MAPS.find((map) => WORDS[map].test(file.name)) ?? "albedo";
      const found = await importPicture(file);
      if (found) maps[name] = found.id;
    }
    if (Object.keys(maps).length > 0) setMaps(maps);
  };
  return (
    <div className="space-y-1">
      <div className="flex items-center gap-2">
        {typeof material === "string" && (
          <img
            src={`/api/materials/${material}/picture.png`}
            alt=""
            className="border-base-300 h-10 w-10 rounded border object-cover"
          />
        )}
        <label className="grid grow gap-0.5 text-xs">
          Material
          <select
            className="select select-xs w-full"
            data-testid={`${cover.id}.material`}
            value={images ? "images" : typeof material === "string" ? material : ""}
            onChange={(event) => choose(event.target.value)}
          >
            <option value="">plain colour</option>
            {materials.map((name) => (
              <option key={name} value={name}>
                {name.replaceAll("_", " ")}
              </option>
            ))}
            <option value="images">imported maps</option>
          </select>
        </label>
      </div>
      {images && (
        <div className="space-y-1 text-xs">
          <FileButton
            label="Import a set of maps"
            title="PNG, JPEG or TIFF; the names of the files say what they are"
            accept={PICTURE_FILES}
            testId={`${cover.id}.maps`}
            multiple
            onFiles={(files) => void take(files, null)}
          />
          {MAPS.map((map) => (
            <div key={map} className="grid grid-cols-[6.5rem_1fr] items-center gap-2">
              <span>{map}</span>
              <MapButton
                asset={images[map]}
                testId={`${cover.id}.map-${map}`}
                onFiles={(files) => void take(files, map)}
              />
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

interface MapProps {
  asset: string | undefined;
  testId: string;
  onFiles: (files: File[]) => void;
}

/** One imported map, by the name of its file, and the way to another one. */
function MapButton({ asset, ...button }: MapProps) {
  const name = useAssetName(asset ?? "");
  return (
    <FileButton label={asset ? `${name} — change` : "Choose"} accept={PICTURE_FILES} {...button} />
  );
}
