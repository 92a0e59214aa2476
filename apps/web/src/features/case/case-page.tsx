import { STAGES, type HouseRules, type Stage } from '@jarro/core';
import { FileDown, Printer } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { CaseDetail } from '@jarro/api-types';
import { buttonLook } from '../../ui/button';
import { CurrentPanel } from '../capture/current-panel';
import { ChecksStage } from '../checks/checks-stage';
import { FromSignals } from '../control/from-signals';
import { ControlStage } from '../control/control-stage';
import { EvidenceView } from '../evidence/evidence-view';
import { IntakeStage } from '../intake/intake-stage';
import { PathRibbon } from '../path/path-ribbon';
import { PathStage } from '../path/path-stage';
import type { StationReading } from '../path/station-kinds';
import { StationSheet } from '../path/station-sheet';
import { PressureStage } from '../pressure/pressure-stage';
import { HandOverStage } from '../recheck/hand-over-stage';
import { RecheckStage } from '../recheck/recheck-stage';
import { RepairStage } from '../repair/repair-stage';
import { BenchContext, useBench } from './bench';
import { Scale } from './scale';
import { ScaleLine } from './scale-line';
import { useMayMeasure } from './use-may-measure';
import { StageFrame } from './stage-head';
import { StageRail } from './stage-rail';
import { isRechecked, standingCaptures } from './evidence';
import { VerdictPanel } from '../verdict/verdict-panel';
import { WithCase } from './with-case';

export type CaseView = Stage | 'evidence';

/** A case on the bench: the path on top, the work in the middle, what it amounts to beside it. */
export function CasePage() {
  return <WithCase>{(item, me) => <OnBench key={item.id} item={item} rules={me.shop.rules} />}</WithCase>;
}

function OnBench({ item, rules }: { item: CaseDetail; rules: HouseRules }) {
  const { view } = useParams();
  const navigate = useNavigate();
  const bench = useBench(item, rules);
  const shown = isView(view) ? view : firstView(item);
  // Whoever goes to another stage leaves the reading that was begun on this one.
  const [begun, setBegun] = useState<{ view: CaseView; reading: StationReading }>();
  const reading = begun?.view === shown ? begun.reading : undefined;
  const setReading = (next: StationReading | undefined) => setBegun(next && { view: shown, reading: next });
  return (
    <BenchContext value={bench}>
      <main className="mx-auto max-w-[1280px] space-y-2.5 p-4 pt-2 max-lg:pb-20">
        <CaseTitle item={item} />
        <PathRibbon
          key={shown}
          opensFolded={!WITH_PATH.has(shown)}
          {...(reading && { at: reading.station })}
          onStation={(station) => setReading({ station, kind: 'voltage' })}
        />
        <div className="grid gap-3 lg:grid-cols-[10.5rem_minmax(0,1fr)_18rem]">
          <StageRail item={item} />
          <div className="card min-w-0 p-4">
            {reading && <StationSheet reading={reading} onReading={setReading} onClose={() => setReading(undefined)} />}
            <div hidden={reading !== undefined}>
              <View item={item} view={shown} onReading={setReading} />
            </div>
          </div>
          <Scale onReading={setReading} onStage={(stage) => void navigate(`/cases/${item.id}/${stage}`)} />
        </div>
        <ScaleLine />
      </main>
    </BenchContext>
  );
}

function View({
  item,
  view,
  onReading,
}: {
  item: CaseDetail;
  view: CaseView;
  onReading: (reading: StationReading) => void;
}): ReactNode {
  switch (view) {
    case 'intake':
      return <IntakeStage item={item} />;
    case 'first-checks':
      return <ChecksStage item={item} />;
    case 'pressure':
      return <PressureStage item={item} />;
    case 'power-path':
      return (
        <StageFrame item={item} stage={view}>
          <PathStage onReading={onReading} />
        </StageFrame>
      );
    case 'current':
      return <CurrentStage item={item} />;
    case 'verdict':
      return (
        <StageFrame item={item} stage={view} workFirst>
          <VerdictPanel />
        </StageFrame>
      );
    case 'closed':
      return <HandOverStage item={item} />;
    case 'evidence':
      return <EvidenceView item={item} />;
    case 'control':
      return <ControlStage item={item} />;
    case 'repair':
      return <RepairStage item={item} />;
    case 'recheck':
      return <RecheckStage item={item} onReading={onReading} />;
  }
}

/** The pump's current as it was recorded, and what its captures say beside the weights that they have by themselves. */
function CurrentStage({ item }: { item: CaseDetail }) {
  const editable = useMayMeasure(item);
  return (
    <StageFrame item={item} stage="current" workFirst>
      <CurrentPanel item={item} />
      <FromSignals item={item} editable={editable} />
    </StageFrame>
  );
}

/** Where the whole path is what is worked on; elsewhere it leaves the height to the work, and opens at a touch. */
const WITH_PATH: ReadonlySet<CaseView> = new Set(['power-path', 'verdict']);

function isView(text: string | undefined): text is CaseView {
  return text === 'evidence' || (STAGES as readonly string[]).includes(text ?? '');
}

/** Where the work is: a new case begins with its intake, one with a capture shows it. */
function firstView(item: CaseDetail): CaseView {
  if (item.stage === 'decided') return isRechecked(item) ? 'recheck' : 'verdict';
  if (item.stage === 'closed') return 'verdict';
  if (standingCaptures(item).length > 0) return 'current';
  if (item.sheet.lines.length > 0) return 'pressure';
  return item.intake.sequence > 0 ? 'first-checks' : 'intake';
}

function CaseTitle({ item }: { item: CaseDetail }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <h1 className="text-xl">
        <Link
          to="/"
          className="text-soft underline decoration-line decoration-2 underline-offset-4 hover:decoration-ink"
        >
          Cases
        </Link>
        <span className="text-soft"> / {item.number} · </span>
        {item.vehicle?.model}
      </h1>
      <Visits item={item} />
      <p className="min-w-0 flex-1 truncate text-soft" title={item.complaint}>
        {[item.vehicle?.engine, item.vehicle?.plate, item.complaint].filter(Boolean).join(' · ')}
      </p>
      <div className="flex gap-2">
        <a
          href={`/api/cases/${item.id}/file`}
          download={`case-${item.number}.json`}
          title="The case as a file: the command line reads it, and another Jarro opens it"
          className={buttonLook()}
        >
          <FileDown aria-hidden className="size-5" /> <span className="max-sm:sr-only">File</span>
        </a>
        <Link to={`/cases/${item.id}/summary`} className={buttonLook()}>
          <Printer aria-hidden className="size-5" /> <span className="max-sm:sr-only">Summary</span>
        </Link>
      </div>
    </div>
  );
}

/** The case that this vehicle comes back from, and those that it came back with. */
function Visits({ item: { comebackOf, comebacks } }: { item: CaseDetail }) {
  const visits = [
    ...(comebackOf ? [{ ...comebackOf, words: 'comeback of case' }] : []),
    ...comebacks.map((one) => ({ ...one, words: 'came back as case' })),
  ];
  return visits.map(({ id, number, words }) => (
    <Link key={id} to={`/cases/${id}`} className="font-semibold text-rust underline underline-offset-4">
      {words} {number}
    </Link>
  ));
}
