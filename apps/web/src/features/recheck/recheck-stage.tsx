import {
  caseBench,
  newestEntry,
  phasesOf,
  presentEvidence,
  RECHECK_CHECKS,
  recheckQuestion,
  type Recheck,
} from '@jarro/core';
import { useMemo } from 'react';
import { Link } from 'react-router';
import type { CaseDetail } from '@jarro/api-types';
import { CheckRow } from '../checks/check-row';
import { useTheBench } from '../case/bench';
import { entriesOf, groundOf } from '../case/evidence';
import { StageFrame } from '../case/stage-head';
import { useMayMeasure } from '../case/use-may-measure';
import { Notes } from '../notes/notes';
import { Photos } from '../notes/photos';
import type { StationReading } from '../path/station-kinds';
import { LooseEnds } from '../repair/loose-ends';
import { HoldsCompared, LaddersCompared, SweepsCompared } from './compared';
import { Failed } from './failed';
import { Repeats } from './repeats';
import { Soak } from './soak';
import { TurnsCompared } from './turns-compared';
import { handOverOf } from './use-recheck';

/** The same tests as before, side by side; what is asked besides; and the way back to diagnosis where it fails. */
export function RecheckStage({ item, onReading }: { item: CaseDetail; onReading: (reading: StationReading) => void }) {
  const { verdict, done } = phasesOf(item.evidence, item.stage);
  if (verdict && done) return <UnderWay item={item} onReading={onReading} />;
  return (
    <StageFrame item={item} stage="recheck">
      <p className="text-lg">
        {verdict
          ? 'The recheck begins once the repair is finished. '
          : 'The recheck follows the verdict and its repair. '}
        <Link className="font-semibold text-steel underline" to={`/cases/${item.id}/${verdict ? 'repair' : 'verdict'}`}>
          {verdict ? 'To the repair' : 'To the verdict'}
        </Link>
      </p>
      {!verdict && <Soak item={item} />}
      <Notes item={item} stage="recheck" />
      <Photos item={item} stage="recheck" />
    </StageFrame>
  );
}

function UnderWay({ item, onReading }: { item: CaseDetail; onReading: (reading: StationReading) => void }) {
  const { rules, rechecked } = useTheBench();
  const editable = useMayMeasure(item);
  const entries = entriesOf(item);
  const recheck = rechecked && 'result' in rechecked ? rechecked.result : undefined;
  const { fails } = handOverOf(item, rechecked);
  const benches = useMemo(() => {
    const question = recheckQuestion(groundOf(item), item.stage);
    const before = question && caseBench(question.before, rules);
    return before && { before, after: caseBench(presentEvidence(groundOf(item), item.stage), rules) };
  }, [item, rules]);
  return (
    <StageFrame item={item} stage="recheck">
      {fails && <Failed item={item} {...(recheck && { recheck })} />}
      {recheck ? (
        <Repeats item={item} recheck={recheck} editable={editable} onReading={onReading} />
      ) : (
        <p className="text-soft">Comparing with what was read before …</p>
      )}
      {recheck && <Remaining recheck={recheck} />}
      <TurnsCompared item={item} />
      {benches && <LaddersCompared {...benches} />}
      <SweepsCompared item={item} />
      <HoldsCompared item={item} />
      <section aria-label="Also asked">
        <h3 className="text-xl">Also asked</h3>
        {RECHECK_CHECKS.map((check) => (
          <CheckRow
            key={check.at}
            caseId={item.id}
            check={check}
            entry={newestEntry(entries, 'check', check.at)}
            editable={editable}
          />
        ))}
      </section>
      <Soak item={item} />
      <LooseEnds item={item} />
      <Notes item={item} stage="recheck" />
      <Photos item={item} stage="recheck" />
    </StageFrame>
  );
}

/** What else the readings after the repair speak for. */
function Remaining({ recheck: { remaining } }: { recheck: Recheck }) {
  if (remaining.length === 0) return null;
  return (
    <p className="border-l-4 border-rust pl-3">
      What was read after the repair speaks for {remaining.map(({ title }) => title.toLowerCase()).join(', or ')},
      rather than for a sound vehicle.
    </p>
  );
}
