import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { ReactNode } from 'react';
import { Tip } from './tip.tsx';

/** A list whose entries are put in order by dragging their grips, or by Space and the arrow keys on them. */
export function Sorted({
  label,
  ids,
  nameOf,
  onMove,
  className = '',
  children,
}: {
  label: string;
  ids: readonly string[];
  /** what an entry is called where its moves are told */
  nameOf: (id: string) => string;
  onMove: (id: string, to: number) => void;
  className?: string;
  children: ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent): void => {
    if (over && over.id !== active.id) onMove(String(active.id), ids.indexOf(String(over.id)));
  };
  const place = (id: string | number): string => `place ${ids.indexOf(String(id)) + 1} of ${ids.length}`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: {
          draggable: 'Space takes it, the arrow keys move it, Space puts it down, Escape leaves it where it was.',
        },
        announcements: {
          onDragStart: ({ active }) => `${nameOf(String(active.id))} is taken, ${place(active.id)}.`,
          onDragOver: ({ active, over }) =>
            over ? `${nameOf(String(active.id))} is over ${place(over.id)}.` : undefined,
          onDragEnd: ({ active, over }) =>
            over ? `${nameOf(String(active.id))} is put down, ${place(over.id)}.` : undefined,
          onDragCancel: ({ active }) => `${nameOf(String(active.id))} stays where it was.`,
        },
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        <ol aria-label={label} className={className}>
          {children}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

/** What an entry of such a list needs: it is told where it is while it is dragged, and has a grip. */
export function useSorted(id: string, name: string) {
  const { setNodeRef, transform, transition, isDragging, attributes, listeners, setActivatorNodeRef } = useSortable({
    id,
  });
  return {
    ref: setNodeRef,
    style: {
      transform: CSS.Translate.toString(transform),
      ...(transition && { transition }),
      ...(isDragging && { position: 'relative' as const, zIndex: 10, opacity: 0.85 }),
    },
    grip: (
      <Tip text="Drag to another place" keys="Space">
        <button
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${name}`}
          className="-ml-2 flex h-6 w-4 shrink-0 cursor-grab touch-none items-center justify-center text-rule-strong hover:text-ink"
        >
          <GripVertical size={14} aria-hidden />
        </button>
      </Tip>
    ),
  };
}
