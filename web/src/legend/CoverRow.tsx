import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { ArrowDown, ArrowUp, CircleDot, GripVertical } from "lucide-react";
import type { Cover, Recipe } from "../api/types";
import { MaskEditor } from "../controls/MaskEditor";
import { MaskThumb } from "../controls/MaskThumb";
import { NumberField } from "../controls/NumberField";
import { Pending } from "../controls/Pending";
import { useIsPending } from "../live/pending";
import { commit, commitValue, preview } from "../live/edit";
import { changeView, useView } from "../studio/view";
import { CoverFields } from "./CoverFields";
import { CoverSwatch } from "./CoverSwatch";
import { NameRow } from "./NameRow";
import { IsOn, OwnColour } from "./RowParts";
import { OpenButton } from "./OpenButton";

interface Props {
  cover: Cover;
  bottom: boolean;
  share: number | undefined;
  /** The mean colour of the ground where there is most of it, in linear light. */
  colour: number[] | undefined;
  products: string[];
}

/** One layer of ground: swatch, name, share of the land; its mask when open. */
export function CoverRow({ cover, bottom, share, colour, products }: Props) {
  const open = useView((view) => view.openBand === cover.id);
  const alone = useView((view) => view.solo === cover.id);
  const pending = useIsPending((recipe) => recipe.covers.find(({ id }) => id === cover.id));
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({
    id: cover.id,
  });
  const on = (change: (target: Cover) => void) => (draft: Recipe) => {
    const target = draft.covers.find((other) => other.id === cover.id);
    if (target) change(target);
  };
  const move = (by: number) =>
    commit(`Move ${cover.name}`, (draft) => {
      const at = draft.covers.findIndex((other) => other.id === cover.id);
      const [taken] = draft.covers.splice(at, 1);
      if (taken) draft.covers.splice(Math.max(0, at + by), 0, taken);
    });
  return (
    <article
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="border-base-300 border-b"
      data-testid={`cover-${cover.id}`}
    >
      <div className={`flex items-center gap-1.5 p-1.5 ${cover.on ? "" : "opacity-60"}`}>
        <span
          className="grid size-6 cursor-grab touch-none place-items-center"
          data-testid={`grip-${cover.id}`}
          title="Drag to another place"
          aria-label={`Move ${cover.name}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={12} aria-hidden />
        </span>
        <IsOn row={cover} edit={on} />
        {cover.material ? (
          <CoverSwatch cover={cover} colour={colour} />
        ) : (
          <OwnColour row={cover} edit={on} />
        )}
        {cover.mask && <MaskThumb owner={cover.id} />}
        <OpenButton owner={cover.id} name={cover.name}>
          {pending && <Pending />}
          <span
            className="text-base-content/80 block text-xs"
            data-testid={`share-${cover.id}`}
            title="Its share of the land"
          >
            {share === undefined || !cover.on ? "—" : `${(100 * share).toFixed(1)} %`}
          </span>
        </OpenButton>
        <button
          type="button"
          className={`btn btn-xs btn-square ${alone ? "btn-primary" : "btn-ghost"}`}
          aria-pressed={alone}
          aria-label={`Look at ${cover.name} alone`}
          title="Look at this ground alone"
          data-testid={`solo-${cover.id}`}
          onClick={() => changeView({ solo: alone ? null : cover.id })}
        >
          <CircleDot size={13} />
        </button>
      </div>
      {open && (
        <div className="bg-base-200 space-y-2 p-2">
          <NameRow
            name={cover.name}
            onRename={(name) =>
              void commit(
                `Rename ${cover.name}`,
                on((target) => void (target.name = name)),
              )
            }
            without={(draft) => {
              draft.covers = draft.covers.filter((other) => other.id !== cover.id);
            }}
          >
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Raise ${cover.name}`}
              onClick={() => void move(1)}
            >
              <ArrowUp size={13} />
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Lower ${cover.name}`}
              disabled={bottom}
              onClick={() => void move(-1)}
            >
              <ArrowDown size={13} />
            </button>
          </NameRow>
          {cover.material && (
            <div className="flex items-center gap-2 text-xs">
              <OwnColour row={cover} edit={on} /> Own colour
            </div>
          )}
          <CoverFields
            {...{ cover, bottom }}
            onPreview={(change) => preview(on(change))}
            onCommit={(change) => void commitValue(on(change))}
          />
          <NumberField
            label="Patchiness"
            slider={[0, 1]}
            value={cover.mottle.amount}
            onPreview={(amount) => preview(on((target) => void (target.mottle.amount = amount)))}
            onCommit={(amount) =>
              void commitValue(on((target) => void (target.mottle.amount = amount)))
            }
          />
          {bottom ? (
            <p className="text-base-content/80 text-xs">
              The lowest layer fills what the ones above leave free.
            </p>
          ) : (
            <MaskEditor
              owner={cover.id}
              mask={cover.mask}
              products={products}
              onPreview={(mask) => preview(on((target) => setMask(target, mask)))}
              onCommit={(mask) => void commitValue(on((target) => setMask(target, mask)))}
            />
          )}
        </div>
      )}
    </article>
  );
}

function setMask(target: Cover, mask: Cover["mask"]) {
  if (mask) target.mask = mask;
  else delete target.mask;
}
