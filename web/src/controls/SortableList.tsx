import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import type { ReactNode } from "react";

interface Props {
  /** From the top down. */
  entries: { id: string; name: string }[];
  /** An entry goes where another one is. */
  onMove: (id: string, to: string) => void;
  children: ReactNode;
}

const INSTRUCTIONS =
  "Space lifts it, up and down move it, Space lays it down, Escape leaves it where it was.";

/** Entries that are put into another order, with the mouse or with keys. */
export function SortableList({ entries, onMove, children }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (id: string | number) => entries.findIndex((entry) => entry.id === id);
  const nameOf = (id: string | number) => entries[placeOf(id)]?.name ?? "It";
  const placed = (id: string | number) => `place ${placeOf(id) + 1} of ${entries.length}`;
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${nameOf(active.id)} is lifted from ${placed(active.id)}.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} is over ${placed(over.id)}.` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} is laid down at ${placed(over.id)}.` : undefined,
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays at ${placed(active.id)}.`,
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{ announcements, screenReaderInstructions: { draggable: INSTRUCTIONS } }}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id) onMove(String(active.id), String(over.id));
      }}
    >
      <SortableContext items={entries} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}
