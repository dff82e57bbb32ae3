import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { ImportDialog } from "../shelf/ImportDialog";
import { importRecipe, isHeights, isRecipe } from "../shelf/importFile";

/** Takes any file that is dropped anywhere, or says why not: the browser never opens it in
 * place of the page. */
export function DropTarget({ children }: { children: ReactNode }) {
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  const [model, setModel] = useState<File | null>(null);
  const take = async (files: FileList) => {
    const [file] = files;
    if (!file) return;
    if (files.length > 1) toast("One file at a time: the first one is taken.");
    if (isHeights(file)) return setModel(file);
    if (!isRecipe(file)) {
      toast.error(
        `${file.name} cannot be taken: it is neither heights (GeoTIFF, OpenEXR, PNG, JPEG, ESRI ASCII grid, raw) nor a recipe (JSON). Nothing was changed.`,
        { duration: 10_000 },
      );
      return;
    }
    try {
      await navigate(`/landscapes/${await importRecipe(file)}`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error), { duration: 10_000 });
    }
  };
  return (
    <div
      className="relative h-full"
      data-testid="drop-target"
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes("Files")) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (event.currentTarget === event.target) setOver(false);
      }}
      onDrop={(event) => {
        setOver(false);
        // Something else took it.
        if (event.defaultPrevented || event.dataTransfer.files.length === 0) return;
        event.preventDefault();
        void take(event.dataTransfer.files);
      }}
    >
      {children}
      {over && (
        <p className="bg-primary/15 outline-primary pointer-events-none absolute inset-0 z-30 grid place-items-center text-lg font-semibold outline-4 -outline-offset-4">
          Let go to import it as a landscape
        </p>
      )}
      {model && <ImportDialog file={model} onClose={() => setModel(null)} />}
    </div>
  );
}
