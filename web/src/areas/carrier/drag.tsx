import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  getClientRect,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type ReactNode, useState } from 'react';
import type { AssemblyRecord, Carrier, SetUpRecord } from '#core/records';
import { loadStation, moveStation, replaceStation } from '../../store/set-up-actions.ts';

/** What is dragged: an assembly from the Shelf, or what stands at a station. */
export type Dragged = { readonly assembly: AssemblyRecord } | { readonly station: number; readonly name: string };

// Stations of the dial are put by transforms: measured as they are seen.
const MEASURING = { droppable: { measure: getClientRect } };

const nameOf = (d: Dragged): string => ('assembly' in d ? d.assembly.name : d.name);

interface Props {
  readonly setUp: SetUpRecord;
  readonly carrier: Carrier;
  readonly onLoaded: (station: number) => void;
  readonly children: ReactNode;
}

/** Assemblies are dragged to stations, and from one station to another, in the dial and in the table. By keyboard: Enter in a list, and the station's own field. */
export function DragArea({ setUp, carrier, onLoaded, children }: Props) {
  const [dragged, setDragged] = useState<Dragged | null>(null);
  // A press that does not move stays a press.
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 200, tolerance: 6 } }),
  );
  const end = ({ active, over }: DragEndEvent) => {
    setDragged(null);
    const what = active.data.current as Dragged | undefined;
    const station = over?.data.current?.station as number | undefined;
    if (!what || station === undefined) return;
    if ('assembly' in what) {
      const held = setUp.places.find((p) => p.carrierId === carrier.id && p.station === station);
      if (held) replaceStation(setUp.id, held, what.assembly);
      else loadStation(setUp.id, { carrierId: carrier.id, station, assemblyId: what.assembly.id, spindle: 'main' }, what.assembly.name);
    } else if (what.station !== station) moveStation(setUp.id, carrier.id, what.station, station);
    onLoaded(station);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      measuring={MEASURING}
      accessibility={{ screenReaderInstructions: { draggable: 'Drag it to a station, or press Enter.' } }}
      onDragStart={({ active }) => setDragged((active.data.current as Dragged | undefined) ?? null)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={end}
    >
      {children}
      <DragOverlay dropAnimation={null} className="drag-overlay">
        {dragged && <div className="dragged">{nameOf(dragged)}</div>}
      </DragOverlay>
    </DndContext>
  );
}

/** What makes an element one that can be dragged. Its own role and keys stay. */
export function useDragged(id: string, what: Dragged | undefined) {
  const { setNodeRef, listeners } = useDraggable({ id, data: what, disabled: what === undefined });
  return { ref: setNodeRef, ...listeners };
}

/** What makes an element a station that things are dropped on. */
export function useStationTarget(id: string, station: number) {
  const { setNodeRef, isOver } = useDroppable({ id, data: { station } });
  return { ref: setNodeRef, isOver };
}
