import { phasesOf, presentLinks, grouped } from '@jarro/core';
import type { CaptureItem, CaseDetail, EvidenceItem } from '@jarro/api-types';
import { TurnOverlay } from '../../charts/turn-overlay';
import { DataTable } from '../../ui/data-table';

interface WithTurn {
  readonly name: string;
  readonly turnA: readonly number[];
  readonly capture: CaptureItem;
}

/** The newest capture before the repair and the newest after it: one turn of each, and their numbers. */
export function TurnsCompared({ item }: { item: CaseDetail }) {
  const before = newestTurn(item, phasesOf(item.evidence, item.stage).before, 'before');
  const after = newestTurn(item, presentLinks(item.evidence, item.stage), 'after');
  if (!before || !after) return null;
  return (
    <section aria-label="The current, before and after">
      <h3 className="text-xl">The current, before and after</h3>
      <div className="grid items-center gap-4 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <TurnOverlay before={before} after={after} />
        <Numbers before={before.capture} after={after.capture} />
      </div>
    </section>
  );
}

function newestTurn({ captures }: CaseDetail, links: readonly EvidenceItem[], name: string): WithTurn | undefined {
  const withTurns = links.flatMap((link) => {
    const capture = link.kind === 'capture' ? captures.find(({ id }) => id === link.id) : undefined;
    const turnA = capture?.analysis?.turnA;
    return capture && turnA ? [{ name, turnA, capture }] : [];
  });
  return withTurns.at(-1);
}

type Ramp = NonNullable<NonNullable<CaptureItem['analysis']>['ramp']>;

const ROWS: readonly (readonly [
  name: string,
  value: (ramp: Ramp) => number | undefined,
  text: (v: number) => string,
])[] = [
  ['Mean draw', ({ steady }) => steady?.meanA, (amperes) => `${amperes.toFixed(2)} A`],
  ['Ripple', ({ steady }) => steady?.ripplePercent, (percent) => `${percent.toFixed(0)} %`],
  ['Speed', ({ rpm }) => rpm, (rpm) => `${grouped(rpm)} rpm`],
  ['First peak', ({ inrushPeakA }) => inrushPeakA, (amperes) => `${amperes.toFixed(1)} A`],
];

function Numbers({ before, after }: { before: CaptureItem; after: CaptureItem }) {
  const [was, is] = [before.analysis?.ramp, after.analysis?.ramp];
  if (!was || !is) return null;
  return (
    <DataTable
      className="w-full text-lg"
      rows={ROWS}
      keyOf={([name]) => name}
      columns={[
        { title: '', cell: ([name]) => name },
        { title: 'before', right: true, className: 'text-soft', cell: ([, value, text]) => shown(value(was), text) },
        { title: 'after', right: true, className: 'font-bold', cell: ([, value, text]) => shown(value(is), text) },
      ]}
    />
  );
}

function shown(value: number | undefined, text: (value: number) => string): string {
  return value === undefined ? '–' : text(value);
}
