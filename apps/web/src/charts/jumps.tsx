import { ChevronLeft, ChevronRight } from 'lucide-react';
import { Button } from '../ui/button';
import type { TraceEvent } from './trace-window';

/** From one event of a long record to the next: what it is, and which of how many. */
export function Jumps({
  events,
  shown,
  onJump,
}: {
  readonly events: readonly TraceEvent[];
  /** The event that is looked at. */
  readonly shown: TraceEvent | undefined;
  readonly onJump: (way: 1 | -1) => void;
}) {
  if (events.length === 0) return null;
  const count = events.length === 1 ? '1 event' : `${events.length} events`;
  return (
    <div role="group" aria-label="Events" className="flex items-center gap-1">
      <Button aria-label="Previous event" onClick={() => onJump(-1)}>
        <ChevronLeft aria-hidden className="size-5" />
      </Button>
      <span className="min-w-32 text-center" aria-live="polite">
        {shown ? `${shown.name}, ${events.indexOf(shown) + 1} of ${events.length}` : count}
      </span>
      <Button aria-label="Next event" onClick={() => onJump(1)}>
        <ChevronRight aria-hidden className="size-5" />
      </Button>
    </div>
  );
}
