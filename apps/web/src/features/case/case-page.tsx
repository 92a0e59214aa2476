import { STAGES, type HouseLimits, type Stage } from '@jarro/core';
import { Printer } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { CaseDetail, ReadingKind } from '../../app/types';
import { Button } from '../../ui/button';
import { CurrentPanel } from '../capture/current-panel';
import { ChecksStage } from '../checks/checks-stage';
import { EvidenceView } from '../evidence/evidence-view';
import { IntakeStage } from '../intake/intake-stage';
import { ClosedStage } from '../notes/closed-stage';
import { NotesStage } from '../notes/notes-stage';
import { PressureStage } from '../pressure/pressure-stage';
import { PathRibbon } from './path-ribbon';
import { ReadingSheet } from './reading-sheet';
import { ReadingsPanel } from './readings-panel';
import { Scale } from './scale';
import { StageFrame } from './stage-head';
import { StageRail } from './stage-rail';
import { standingCaptures } from './evidence';
import { VerdictPanel } from './verdict-panel';
import { WithCase } from './with-case';

export type CaseView = Stage | 'evidence';

/** A case on the bench: the path on top, the work in the middle, what it amounts to beside it. */
export function CasePage() {
  return <WithCase>{(item, me) => <Bench key={item.id} item={item} limits={me.shop} />}</WithCase>;
}

function Bench({ item, limits }: { item: CaseDetail; limits: HouseLimits }) {
  const { view } = useParams();
  const navigate = useNavigate();
  const [station, setStation] = useState<ReadingKind>();
  const shown = isView(view) ? view : firstView(item);
  return (
    <main className="mx-auto max-w-[1280px] space-y-2.5 p-4 pt-2">
      <CaseTitle item={item} />
      <PathRibbon item={item} limits={limits} onStation={setStation} />
      <div className="grid gap-3 lg:grid-cols-[10.5rem_minmax(0,1fr)_18rem]">
        <StageRail item={item} />
        <div className="card min-w-0 p-4">
          <View item={item} view={shown} onStation={setStation} />
        </div>
        <Scale
          item={item}
          limits={limits}
          onStation={setStation}
          onStage={(stage) => void navigate(`/cases/${item.id}/${stage}`)}
        />
      </div>
      {station && (
        <ReadingSheet caseId={item.id} kind={station} onKind={setStation} onClose={() => setStation(undefined)} />
      )}
    </main>
  );
}

function View({
  item,
  view,
  onStation,
}: {
  item: CaseDetail;
  view: CaseView;
  onStation: (kind: ReadingKind) => void;
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
          <ReadingsPanel item={item} onAdd={() => onStation('battery')} />
        </StageFrame>
      );
    case 'current':
      return (
        <StageFrame item={item} stage={view} workFirst>
          <CurrentPanel item={item} />
        </StageFrame>
      );
    case 'verdict':
      return (
        <StageFrame item={item} stage={view} workFirst>
          <VerdictPanel item={item} />
        </StageFrame>
      );
    case 'closed':
      return <ClosedStage item={item} />;
    case 'evidence':
      return <EvidenceView item={item} />;
    case 'control':
    case 'repair':
    case 'recheck':
      return <NotesStage key={view} item={item} stage={view} />;
  }
}

function isView(text: string | undefined): text is CaseView {
  return text === 'evidence' || (STAGES as readonly string[]).includes(text ?? '');
}

/** Where the work is: a new case begins with its intake, one with a capture shows it. */
function firstView(item: CaseDetail): CaseView {
  if (item.stage !== 'open') return 'verdict';
  if (standingCaptures(item).length > 0) return 'current';
  if (item.sheet.lines.length > 0) return 'pressure';
  return item.intake.sequence > 0 ? 'first-checks' : 'intake';
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
