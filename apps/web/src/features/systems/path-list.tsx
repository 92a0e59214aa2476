import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useDraggable,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { STATION_KINDS, type StationKind } from '@jarro/core';
import { GripVertical, TriangleAlert } from 'lucide-react';
import { readNumber } from '../../app/units';
import { useComposed, useProblem, useStations } from './composer';
import type { StationForm } from './profile-form';
import { STATION_WORDS } from './station-words';

const NEW = 'new:';

/** What a path is made of, and the path itself: drag a part into it, or press it to put it behind the one chosen. */
export function PathList() {
  const { chosen, choose, problems } = useComposed();
  const { stations, insert, move } = useStations();
  const sensors = useSensors(
    // A press is no drag.
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const to = stations.findIndex(({ id }) => id === over.id);
    const dragged = String(active.id);
    if (dragged.startsWith(NEW)) {
      insert(dragged.slice(NEW.length) as StationKind, to + 1);
    } else {
      const from = stations.findIndex(({ id }) => id === dragged);
      if (from !== to) move(from, to);
    }
  };
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
      accessibility={{ announcements: announcementsFor(stations) }}
    >
      <section aria-label="Parts" className="card self-start p-3">
        <h2 className="mb-2 text-lg">Parts</h2>
        <div className="grid grid-cols-3 gap-1.5 md:grid-cols-1">
          {STATION_KINDS.filter((kind) => kind !== 'battery').map((kind) => (
            <Part key={kind} kind={kind} onPress={() => insert(kind)} />
          ))}
        </div>
      </section>
      <section aria-label="Path" className="card self-start p-3">
        <h2 className="mb-2 text-lg">From battery + to battery −</h2>
        <PathProblem />
        <SortableContext items={stations.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <ol className="space-y-1">
            {stations.map((station, i) => (
              <Row
                key={station.id}
                station={station}
                side={pumpAt < 0 || i < pumpAt ? 'supply' : i === pumpAt ? 'pump' : 'ground'}
                chosen={i === chosen}
                wrong={problems.some(({ field }) => field.startsWith(`stations[${i}].`))}
                onChoose={() => choose(station.id)}
              />
            ))}
          </ol>
        </SortableContext>
      </section>
    </DndContext>
  );
}

/** What a screen reader says while a station is moved: its name and its place, counted from battery +. */
function announcementsFor(stations: readonly StationForm[]): Announcements {
  const nameOf = (id: string | number) => {
    const station = stations.find((candidate) => candidate.id === id);
    return station?.name ?? STATION_WORDS[String(id).slice(NEW.length) as StationKind].name;
  };
  const placeOf = (id: string | number) => stations.findIndex((station) => station.id === id) + 1;
  return {
    onDragStart: ({ active }) => `${nameOf(active.id)} is taken up. The arrow keys move it, Space puts it down.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} is at place ${placeOf(over.id)} of ${stations.length}.` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} is put down at place ${placeOf(over.id)}.` : `${nameOf(active.id)} stays as it was.`,
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays as it was.`,
  };
}

function PathProblem() {
  const text = useProblem('stations');
  return text && <p className="mb-2 text-rust">{text}</p>;
}

function Part({ kind, onPress }: { kind: StationKind; onPress: () => void }) {
  const { attributes, listeners, setNodeRef, transform } = useDraggable({ id: `${NEW}${kind}` });
  const { name, icon: Icon } = STATION_WORDS[kind];
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      {...attributes}
      // Enter adds it like a press does; dragging by keyboard is for the path itself.
      onKeyDown={undefined}
      onClick={onPress}
      style={{ transform: CSS.Translate.toString(transform) }}
      className="relative flex min-h-11 touch-none items-center gap-2 rounded-xl border border-line bg-card px-3 text-left text-[0.93rem] hover:border-ink"
    >
      <Icon aria-hidden className="size-4 shrink-0 text-steel" /> {name}
    </button>
  );
}

const SIDES = {
  supply: 'border-l-steel',
  pump: 'border-l-rust',
  ground: 'border-l-mineral',
} as const;

function Row({
  station,
  side,
  chosen,
  wrong,
  onChoose,
}: {
  station: StationForm;
  side: keyof typeof SIDES;
  chosen: boolean;
  wrong: boolean;
  onChoose: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: station.id });
  const { name: kindName, icon: Icon } = STATION_WORDS[station.kind];
  const minutes = readNumber(station.accessMinutes);
  const details = [station.pin && `pin ${station.pin}`, station.colour, station.location].filter(Boolean).join(' · ');
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-stretch rounded-xl border border-l-4 bg-card ${SIDES[side]} ${chosen ? 'border-ink' : 'border-line'}`}
    >
      <button
        type="button"
        aria-label={`Move ${station.name}`}
        {...attributes}
        {...listeners}
        className="grid min-h-11 w-10 touch-none place-items-center text-soft hover:text-ink"
      >
        <GripVertical aria-hidden className="size-5" />
      </button>
      <button
        type="button"
        aria-pressed={chosen}
        onClick={onChoose}
        className="flex min-h-11 min-w-0 flex-1 items-center gap-2 py-1 pr-3 text-left"
      >
        <Icon aria-hidden className="size-5 shrink-0 text-steel" />
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold">{station.name || kindName}</span>
          <span className="label block truncate">{details || kindName}</span>
        </span>
        {wrong && <TriangleAlert aria-label="Something is wrong here" className="size-5 shrink-0 text-rust" />}
        {minutes !== undefined && <span className="label whitespace-nowrap">{minutes} min</span>}
      </button>
    </li>
  );
}
