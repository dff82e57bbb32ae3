import { useMutation, useQuery } from "@tanstack/react-query";
import { CircleHelp, FileUp, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import { DropTarget } from "../studio/DropTarget";
import { HelpSheet } from "../studio/HelpSheet";
import { changeView } from "../studio/view";
import { DeletedLandscapes } from "./DeletedLandscapes";
import { ImportDialog } from "./ImportDialog";
import { create, HEIGHT_FILES, importRecipe, isHeights } from "./importFile";
import { Landscapes } from "./Landscapes";
import { NewLandscape } from "./NewLandscape";
import { Presets } from "./Presets";

/** All landscapes. */
export function Shelf() {
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const [making, setMaking] = useState(false);
  const [model, setModel] = useState<File | null>(null);
  const { data, error } = useQuery({
    queryKey: ["landscapes"],
    queryFn: () => answered(api.GET("/api/landscapes")),
  });
  const open = useMutation({
    mutationFn: (make: () => Promise<string>) => make(),
    onSuccess: (id) => navigate(`/landscapes/${id}`),
    onError: (failure) => toast.error(failure.message, { duration: 10_000 }),
  });
  const take = (file: File | undefined) => {
    if (!file) return;
    if (isHeights(file)) setModel(file);
    else open.mutate(() => importRecipe(file));
  };

  return (
    <DropTarget>
      <main className="h-full overflow-y-auto">
        <div className="mx-auto max-w-5xl space-y-5 p-4 sm:p-8">
          <header className="flex flex-wrap items-end justify-between gap-4">
            <div>
              <h1 className="text-2xl font-semibold">Morphogen</h1>
              <p className="text-base-content/80">Landscapes that grow from recipes.</p>
            </div>
            <div className="flex gap-2">
              <input
                ref={picker}
                type="file"
                accept={`${HEIGHT_FILES},.json`}
                className="hidden"
                data-testid="file-picker"
                aria-label="File to import"
                onChange={(event) => {
                  take(event.target.files?.[0]);
                  event.target.value = "";
                }}
              />
              <button
                type="button"
                className="btn btn-ghost btn-sm btn-square"
                aria-label="Help and preferences"
                title="Help and preferences"
                data-testid="help"
                onClick={() => changeView({ help: true })}
              >
                <CircleHelp size={15} />
              </button>
              <button
                type="button"
                className="btn btn-sm"
                disabled={open.isPending}
                onClick={() => picker.current?.click()}
              >
                <FileUp size={15} /> Import
              </button>
              <button
                type="button"
                className="btn btn-primary btn-sm"
                disabled={open.isPending}
                data-testid="new-landscape"
                onClick={() => setMaking(true)}
              >
                <Plus size={15} /> New landscape
              </button>
            </div>
          </header>
          {making && (
            <NewLandscape
              onClose={() => setMaking(false)}
              onMake={(made) => open.mutate(() => create(made))}
            />
          )}
          {model && <ImportDialog file={model} onClose={() => setModel(null)} />}
          {error && <p className="alert alert-error">{error.message}</p>}
          {data && <Landscapes landscapes={data} />}
          <DeletedLandscapes />
          <Presets
            onChoose={(title, key) =>
              open.mutate(() => create({ name: title, start: { preset: key } }))
            }
          />
          <p className="text-base-content/80 text-sm">
            Drop a file here to import it: an elevation model (GeoTIFF, OpenEXR, ESRI ASCII grid), a
            picture of heights (PNG, JPEG, raw steps of 16 bits), or a recipe (JSON).
          </p>
        </div>
      </main>
      <HelpSheet />
    </DropTarget>
  );
}
