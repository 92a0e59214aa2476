import { ChevronDown } from 'lucide-react';
import { useTheBench } from './bench';
import { isRechecked } from './evidence';
import { SCALE_ID } from './scale';

/** Where the scale lies below everything: its leading suspect and the next test in one line at the screen's foot. */
export function ScaleLine() {
  const { item, weighed } = useTheBench();
  // After the repair the weights are no longer what matters.
  if (!weighed || !('diagnosis' in weighed) || item.evidence.length === 0 || isRechecked(item)) return null;
  const { suspects, nextTests } = weighed.diagnosis;
  const [leading] = suspects;
  const [next] = nextTests;
  const percent = Math.min(99, Math.round(100 * leading.probability));
  return (
    <button
      type="button"
      onClick={() => document.getElementById(SCALE_ID)?.scrollIntoView({ behavior: 'smooth' })}
      className="no-print fixed inset-x-2 bottom-2 z-10 flex min-h-14 items-center gap-3 rounded-2xl bg-enamel px-4 py-1.5 text-left text-on-enamel shadow-lg lg:hidden"
    >
      <span className="text-2xl font-bold whitespace-nowrap">{percent} %</span>
      <span className="min-w-0 grow leading-tight">
        <span className="block truncate font-semibold">{leading.title}</span>
        {next && item.stage === 'open' && <span className="block truncate text-[0.87rem]">Next: {next.title}</span>}
      </span>
      <ChevronDown aria-label="To the scale" className="size-5 shrink-0" />
    </button>
  );
}
