import { byReading, kindOf, type VerdictGrounds, VERDICT_NAMES } from '@jarro/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { CaseDetail, EvidenceItem, VerdictValue } from '@jarro/api-types';
import { when } from '../../app/words';
import { RotorMap } from '../../charts/rotor-map';
import { TurnOverlay } from '../../charts/turn-overlay';
import { captureText } from '../capture/capture-text';
import { StepTable } from '../path/step-table';
import { proofsOf } from './proofs';

/** A verdict as it was given: what it rested on, what was ruled out and how, and what isn't known. */
export function VerdictSheet({
  item,
  link,
  verdict,
  whole,
}: {
  item: CaseDetail;
  link: EvidenceItem;
  verdict: VerdictValue;
  /** The one that stands, with its pictures; earlier ones in short. */
  whole: boolean;
}) {
  const { kind, statement, overrideReason, gate, grounds } = verdict;
  const proofs = proofsOf(gate);
  return (
    <article className="space-y-3 border-t-2 border-ink pt-2">
      <h3 className={whole ? 'text-3xl' : 'text-lg'}>{VERDICT_NAMES[kind]}</h3>
      <p className={whole ? 'text-lg' : ''}>{statement}</p>
      {overrideReason && <p className="font-semibold text-rust">Against the gate, by a lead: {overrideReason}</p>}
      <p className="label">
        {link.takenBy}, {when(link.takenAt)}
      </p>
      {whole && (
        <>
          {item.stage === 'decided' && (
            <Link
              to={`/cases/${item.id}/repair`}
              className="inline-flex min-h-12 items-center rounded-xl bg-rust px-5 text-lg font-semibold text-on-rust hover:brightness-110"
            >
              {kindOf(link) === 'no-fault-found' ? 'On to the hand-over' : 'On to the repair'}
            </Link>
          )}
          <Lines title="What it rests on">{proofs.filter(({ met }) => met).map(({ text }) => text)}</Lines>
          {grounds && <Grounds item={item} grounds={grounds} />}
        </>
      )}
    </article>
  );
}

function Lines({ title, children }: { title: string; children: readonly ReactNode[] }) {
  if (children.length === 0) return null;
  return (
    <section>
      <h4 className="font-semibold">{title}</h4>
      <ul className="list-disc space-y-0.5 pl-5">
        {children.map((line, i) => (
          <li key={i}>{line}</li>
        ))}
      </ul>
    </section>
  );
}

function Grounds({
  item,
  grounds: { ruledOut, notKnown, ladder, captureId },
}: {
  item: CaseDetail;
  grounds: VerdictGrounds;
}) {
  return (
    <>
      <Lines title="Ruled out">
        {byReading(ruledOut).map(({ what, by }) => (
          <>
            <span className="font-semibold">{what.join(', ')}</span>
            {by && `; most of all by ${by}`}
          </>
        ))}
      </Lines>
      <Lines title="Not known">{notKnown}</Lines>
      {captureId && <DecisiveCapture item={item} id={captureId} />}
      {ladder && (
        <section>
          <h4 className="font-semibold">The path as it stood</h4>
          <StepTable ladder={ladder} />
        </section>
      )}
    </>
  );
}

function DecisiveCapture({ item, id }: { item: CaseDetail; id: string }) {
  const analysis = item.captures.find((one) => one.id === id)?.analysis;
  const ramp = analysis?.ramp;
  if (!ramp) return null;
  return (
    <section>
      <h4 className="font-semibold">The capture that decided: {captureText(item, id)}</h4>
      <div className="grid items-center gap-4 md:grid-cols-[minmax(0,1fr)_11rem]">
        {analysis.turnA && <TurnOverlay before={{ name: 'pump current', turnA: analysis.turnA }} />}
        {ramp.bars && ramp.humps && <RotorMap bars={ramp.bars} basis={ramp.humps.basis} />}
      </div>
    </section>
  );
}
