import { GAUGE_STATES, newestEntry } from '@jarro/core';
import { Check, Droplets } from 'lucide-react';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { entriesOf } from '../case/evidence';
import { useFaultShows } from '../case/fault-slice';
import { MeasureSheet, type WhatToMeasure } from '../case/measure-sheet';
import { StageFrame } from '../case/stage-head';
import { useMayMeasure } from '../case/use-may-measure';
import { FromCapture } from './from-capture';
import { GaugeTile, ReadingTile } from './gauge-tile';
import { HoldTest } from './hold-test';
import { Judgements } from './judgements';
import { PrimeTimer } from './prime-timer';
import { ScanValues } from './scan-values';
import { VolumeTest } from './volume-test';

const MORE = ['rail_snap', 'rail_hose_off', 'manifold_vacuum', 'before_filter', 'after_filter'] as const;

/** Gauge, clock and scan tool: what the pump delivers and whether it holds. */
export function PressureStage({ item }: { item: CaseDetail }) {
  const [measuring, setMeasuring] = useState<WhatToMeasure>();
  const unit = usePressureUnit();
  const entries = entriesOf(item);
  const editable = useMayMeasure(item);
  const measure = (what: WhatToMeasure) => (editable ? () => setMeasuring(what) : undefined);
  return (
    <StageFrame item={item} stage="pressure" asksFault>
      <VerdictLine item={item} />
      {editable && <Bleeding caseId={item.id} bled={item.sheet.bled} />}
      <div className="grid grid-cols-2 gap-2 md:grid-cols-4">
        {GAUGE_STATES.map((state) => (
          <GaugeTile
            key={state}
            state={state}
            spec={item.sheet.windows[state]}
            line={item.sheet.lines.find((line) => line.state === state)}
            unit={unit}
            onMeasure={measure({ kind: 'pressure', at: 'rail', keyState: state })}
          />
        ))}
      </div>
      <div className="grid grid-cols-2 gap-2 md:grid-cols-6">
        <PrimeTimer caseId={item.id} entry={newestEntry(entries, 'timing', 'rise_time')} editable={editable} />
        {MORE.map((at) => (
          <ReadingTile
            key={at}
            kind="pressure"
            at={at}
            entry={newestEntry(entries, 'pressure', at)}
            onMeasure={measure({ kind: 'pressure', at })}
          />
        ))}
      </div>
      {item.sheet.regulator && <HoseFuel caseId={item.id} editable={editable} />}
      <Judgements item={item} />
      <FromCapture item={item} editable={editable} />
      <div className="grid gap-4 border-t border-line pt-3 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <HoldTest item={item} editable={editable} />
        <VolumeTest item={item} editable={editable} />
      </div>
      <ScanValues item={item} entries={entries} measure={measure} />
      {measuring && <MeasureSheet caseId={item.id} what={measuring} onClose={() => setMeasuring(undefined)} />}
    </StageFrame>
  );
}

const TONES = {
  open: 'text-soft',
  delivers: 'text-mineral',
  low: 'text-rust',
  high: 'text-rust',
  mixed: 'text-ochre',
} as const;

function VerdictLine({ item }: { item: CaseDetail }) {
  const { standing, text } = item.sheet.verdict;
  return (
    <p role="status" className={`font-title text-xl font-bold ${TONES[standing]}`}>
      {text}
    </p>
  );
}

/** Asked before the first number counts, and again when the gauge was off. */
function Bleeding({ caseId, bled }: { caseId: string; bled: boolean }) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const [faultPresent] = useFaultShows(caseId);
  const say = (value: 'yes' | 'no') => () =>
    void addEntry({ caseId, kind: 'check', at: 'gauge_bled', value, keyState: 'prime', faultPresent });
  if (bled) {
    return (
      <div className="flex flex-wrap items-center gap-x-3">
        <span className="flex items-center gap-1.5 text-mineral">
          <Check aria-hidden className="size-4" /> The gauge is bled.
        </span>
        <Button look="bare" onClick={say('no')} disabled={isLoading}>
          The gauge was taken off since
        </Button>
        <ErrorNotice text={errorText(error)} />
      </div>
    );
  }
  return (
    <div className="flex flex-wrap items-center gap-3 rounded-2xl bg-rust p-4 text-on-rust">
      <Droplets aria-hidden className="size-7" />
      <p className="min-w-60 flex-1 text-lg font-semibold">
        Air in the gauge reads soft and slow. Cycle the key and bleed it until only fuel comes.
      </p>
      <Button look="ink" className="text-lg" onClick={say('yes')} disabled={isLoading}>
        The gauge is bled
      </Button>
      <ErrorNotice text={errorText(error)} />
    </div>
  );
}

function HoseFuel({ caseId, editable }: { caseId: string; editable: boolean }) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const [faultPresent] = useFaultShows(caseId);
  if (!editable) return null;
  const say = (value: 'dry' | 'wet') => () =>
    void addEntry({ caseId, kind: 'check', at: 'hose_fuel', value, keyState: 'idle', faultPresent });
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="font-semibold">Fuel in the vacuum hose?</span>
      <Button onClick={say('dry')} disabled={isLoading}>
        Dry
      </Button>
      <Button onClick={say('wet')} disabled={isLoading}>
        Wet
      </Button>
      <ErrorNotice text={errorText(error)} />
    </div>
  );
}
