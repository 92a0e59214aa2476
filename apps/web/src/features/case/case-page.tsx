import { Printer } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';
import type { CaseDetail, ReadingKind } from '../../app/types';
import { Button } from '../../ui/button';
import { CurrentPanel } from '../capture/current-panel';
import { PathRibbon } from './path-ribbon';
import { ReadingSheet } from './reading-sheet';
import { ReadingsPanel } from './readings-panel';
import { Scale } from './scale';
import { VerdictPanel } from './verdict-panel';
import { WithCase } from './with-case';

export type CaseTab = 'current' | 'readings' | 'verdict';

/** A case on the bench: the path on top, the work in the middle, what it amounts to beside it. */
export function CasePage() {
  return <WithCase>{(item, me) => <Bench item={item} groundDropV={me.shop.groundDropV} />}</WithCase>;
}

function Bench({ item, groundDropV }: { item: CaseDetail; groundDropV: number }) {
  const [tab, setTab] = useState<CaseTab>('current');
  const [station, setStation] = useState<ReadingKind>();
  return (
    <main className="mx-auto max-w-[1280px] space-y-2.5 p-4 pt-2">
      <CaseTitle item={item} />
      <PathRibbon item={item} groundDropV={groundDropV} onStation={setStation} />
      <Tabs.Root
        value={tab}
        onValueChange={(next) => setTab(next as CaseTab)}
        orientation="vertical"
        className="grid gap-3 lg:grid-cols-[10rem_minmax(0,1fr)_18.5rem]"
      >
        <Tabs.List aria-label="Work" className="card flex gap-1 self-start p-2 lg:flex-col">
          <WorkTab value="current" label="Current" count={standing(item.captures)} />
          <WorkTab value="readings" label="Power path" count={standing(item.readings)} />
          <WorkTab value="verdict" label="Verdict" count={item.verdicts.length} />
        </Tabs.List>
        <div className="card min-w-0 p-4">
          <Tabs.Content value="current">
            <CurrentPanel item={item} />
          </Tabs.Content>
          <Tabs.Content value="readings">
            <ReadingsPanel item={item} onAdd={() => setStation('battery')} />
          </Tabs.Content>
          <Tabs.Content value="verdict">
            <VerdictPanel item={item} />
          </Tabs.Content>
        </div>
        <Scale item={item} onStation={setStation} onTab={setTab} />
      </Tabs.Root>
      {station && (
        <ReadingSheet caseId={item.id} kind={station} onKind={setStation} onClose={() => setStation(undefined)} />
      )}
    </main>
  );
}

function CaseTitle({ item }: { item: CaseDetail }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <h1 className="text-xl">
        <Link to="/" className="text-soft hover:underline">
          Cases
        </Link>
        <span className="text-soft"> / {item.number} · </span>
        {item.vehicle?.model}
      </h1>
      <p className="min-w-0 flex-1 truncate text-soft" title={item.complaint}>
        {item.vehicle?.engine} · {item.vehicle?.plate} · {item.complaint}
      </p>
      <Link to={`/cases/${item.id}/summary`}>
        <Button>
          <Printer aria-hidden className="size-5" /> Summary
        </Button>
      </Link>
    </div>
  );
}

function standing(items: readonly { readonly voidedAt: string | null }[]): number {
  return items.filter(({ voidedAt }) => !voidedAt).length;
}

function WorkTab({ value, label, count }: { value: CaseTab; label: string; count: number }) {
  return (
    <Tabs.Trigger
      value={value}
      className="flex min-h-11 flex-1 items-center justify-between gap-2 rounded-xl px-3 text-left font-semibold hover:bg-paper lg:flex-none data-[state=active]:bg-enamel data-[state=active]:text-on-enamel"
    >
      {label}
      <span className="text-[0.87rem] opacity-75">{count || ''}</span>
    </Tabs.Trigger>
  );
}
