import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { ChevronDown, ChevronRight, GripVertical, TriangleAlert } from "lucide-react";
import type { BandMessage, Step } from "../api/types";
import { formatLength } from "../controls/units";
import { commit } from "../live/edit";
import { findStep, takenBy } from "../live/recipe";
import { Pending } from "../controls/Pending";
import { useIsPending } from "../live/pending";
import { useSession } from "../live/session";
import { changeView, useView } from "../studio/view";
import { BandBody } from "./BandBody";

interface Props {
  step: Step;
  band: BandMessage | undefined;
  strongest: number;
  products: string[];
}

/** One step: what it changed, how much, and its parameters when open. */
export function Band({ step, band, strongest, products }: Props) {
  const open = useView((view) => view.openBand === step.id);
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: step.id });
  return (
    <article
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`border-base-300 bg-base-100 border-b ${step.on ? "" : "opacity-60"}`}
      data-testid={`band-${step.id}`}
    >
      <div className="flex items-center gap-1.5 p-1.5">
        <button
          type="button"
          className="text-base-content/40 hover:text-base-content grid size-6 cursor-grab touch-none place-items-center"
          aria-label={`Move ${step.name}`}
          data-testid={`grip-${step.id}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={14} />
        </button>
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label={`${step.name} is on`}
          checked={step.on}
          onChange={(event) => {
            const on = event.target.checked;
            void commit(`${on ? "Switch on" : "Switch off"} ${step.name}`, (draft) => {
              const target = findStep(draft, step.id);
              if (target) target.on = on;
            });
          }}
        />
        <button
          type="button"
          className="flex min-w-0 grow items-center gap-2 text-left"
          aria-expanded={open}
          onClick={() => changeView({ openBand: open ? null : step.id })}
          data-testid={`open-${step.id}`}
        >
          {band && step.on ? (
            <img src={band.relief} alt="" className="h-9 w-14 shrink-0 rounded-sm object-cover" />
          ) : (
            <span className="bg-base-300 h-9 w-14 shrink-0 rounded-sm" />
          )}
          <BandLabel step={step} band={band} share={band ? band.rms_m / strongest : 0} />
          {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      </div>
      {takenBy(step) && <Inclusion strand={takenBy(step) ?? ""} />}
      {open && <BandBody step={step} products={products} />}
    </article>
  );
}

function BandLabel({ step, band, share }: Pick<Props, "step" | "band"> & { share: number }) {
  const solo = useView((view) => view.solo === step.id);
  const found = useSession((state) => state.findings.some((finding) => finding.step === step.id));
  const pending = useIsPending((recipe) => findStep(recipe, step.id));
  return (
    <span className="min-w-0 grow">
      <span className="flex items-center gap-1 text-sm" title={step.note || undefined}>
        <span className="truncate">{step.name}</span>
        {pending && <Pending />}
        {solo && <span className="badge badge-primary badge-xs">alone</span>}
        {found && <TriangleAlert size={12} className="text-warning shrink-0" aria-label="Survey" />}
      </span>
      <span className="flex items-center gap-1.5">
        <span className="bg-base-300 h-1.5 grow rounded-full">
          <span
            className="bg-secondary block h-full rounded-full"
            style={{ width: `${Math.max(2, 100 * Math.min(1, share))}%` }}
          />
        </span>
        <span
          className="text-base-content/80 w-16 text-right text-[0.7rem]"
          title="Root mean square of the change in height"
          data-testid={`rms-${step.id}`}
        >
          {band && step.on ? formatLength(band.rms_m) : "—"}
        </span>
      </span>
    </span>
  );
}

/** A strand that is taken in, as an inclusion in the band. */
function Inclusion({ strand }: { strand: string }) {
  return (
    <button
      type="button"
      className="bg-primary/10 hover:bg-primary/20 border-primary mx-8 mb-1.5 block rounded-full border px-2 text-xs"
      title="Open this strand"
      onClick={() => changeView({ strand, openBand: null, solo: null })}
    >
      ◖ {strand} ◗
    </button>
  );
}
