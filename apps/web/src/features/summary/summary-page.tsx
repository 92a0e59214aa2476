import { grouped, PATTERN_NAMES, VERDICT_NAMES } from '@jarro/core';
import { ArrowLeft, FileText, PackageOpen, Printer } from 'lucide-react';
import { Link } from 'react-router';
import type { CaptureItem, CaseDetail, Me } from '@jarro/api-types';
import { when } from '../../app/words';
import { RotorMap } from '../../charts/rotor-map';
import { Button, buttonLook } from '../../ui/button';
import { DropLedgerTable } from '../path/drop-ledger';
import { WithCase } from '../case/with-case';
import { standingCaptures, verdictsOf } from '../case/evidence';
import { linkSentence } from '../evidence/describe-link';
import { proofsOf } from '../verdict/proofs';
import { usePressureUnit } from '../../app/units';

/** One case on paper: what was found, on which evidence, by whom. */
export function SummaryPage() {
  return <WithCase>{(item, me) => <Paper item={item} me={me} />}</WithCase>;
}

function Paper({ item, me }: { item: CaseDetail; me: Me }) {
  const unit = usePressureUnit();
  return (
    <main className="mx-auto max-w-3xl space-y-5 p-6">
      <div className="no-print flex flex-wrap justify-between gap-2">
        <Link to={`/cases/${item.id}`} className={buttonLook()}>
          <ArrowLeft aria-hidden className="size-5" /> Back to the case
        </Link>
        <div className="flex flex-wrap gap-2">
          <Reports item={item} />
          <a
            href={`/api/cases/${item.id}/bundle`}
            download={`case-${item.number}.zip`}
            title="Everything of the case in one file, with the original records: another shop’s Jarro takes it in whole"
            className={buttonLook()}
          >
            <PackageOpen aria-hidden className="size-5" /> Whole case, zip
          </a>
          <Button onClick={() => window.print()}>
            <Printer aria-hidden className="size-5" /> Print this page
          </Button>
        </div>
      </div>
      <header className="border-b-4 border-ink pb-3">
        <p className="label">
          {me.shop.name}, {me.shop.town} · case {item.number} · opened {when(item.openedAt)} by {item.openedBy}
        </p>
        <h1 className="text-3xl">
          {[item.vehicle?.model, item.vehicle?.engine, item.vehicle?.year].filter(Boolean).join(', ')}
        </h1>
        <p>
          {item.vehicle?.plate && `${item.vehicle.plate} · `}“{item.complaint}”
        </p>
      </header>
      <VerdictLines item={item} />
      <section>
        <h2 className="text-xl">Supply and ground, loaded</h2>
        <DropLedgerTable ledger={item.ledger} />
      </section>
      {standingCaptures(item).map((capture) => (
        <CaptureLines key={capture.id} capture={capture} />
      ))}
      <section>
        <h2 className="text-xl">Evidence</h2>
        <ul className="text-[0.93rem]">
          {item.evidence.map((link) => {
            return (
              <li key={link.id} className={`border-b border-line py-1 ${link.voided ? 'line-through' : ''}`}>
                {link.sequence}. {linkSentence(link, item, unit)}; {link.takenBy}, {when(link.takenAt)}{' '}
                <Seal hash={link.hash} />
                {link.voided && ` voided by ${link.voided.by}: ${link.voided.reason}`}
              </li>
            );
          })}
        </ul>
        <p className="label mt-2">
          Each entry carries a seal over its content and the entry before it;{' '}
          {item.seal.intact
            ? 'all were checked and none was changed.'
            : `something was changed outside Jarro: ${item.seal.problems.join(' ')}`}{' '}
          Jarro advises; a qualified person decides.
        </p>
      </section>
    </main>
  );
}

const KINDS = { customer: 'For the customer', technical: 'Technical' } as const;
/** Where letter paper is what printers hold (common practice, no published source). */
const LETTER_REGIONS = /-(US|CA|MX|PH|CL|CO|VE)$/;

/** The case as PDF on the paper of where the reader is. */
function Reports({ item }: { item: CaseDetail }) {
  const paper = LETTER_REGIONS.test(navigator.language) ? 'LETTER' : 'A4';
  return (Object.keys(KINDS) as (keyof typeof KINDS)[]).map((kind) => (
    <a
      key={kind}
      href={`/api/cases/${item.id}/report.pdf?kind=${kind}&paper=${paper}`}
      target="_blank"
      rel="noreferrer"
      className="inline-flex min-h-11 items-center gap-2 rounded-xl bg-enamel px-4 font-semibold text-on-enamel hover:brightness-125"
    >
      <FileText aria-hidden className="size-5" /> {KINDS[kind]}, PDF
    </a>
  ));
}

function VerdictLines({ item }: { item: CaseDetail }) {
  const newest = verdictsOf(item).at(-1);
  if (!newest || item.stage === 'open') return <p className="text-lg text-ochre">No verdict stands yet.</p>;
  const { link, value: verdict } = newest;
  return (
    <section className="card p-4">
      <h2 className="text-2xl">{VERDICT_NAMES[verdict.kind]}</h2>
      <p className="text-lg">{verdict.statement}</p>
      {verdict.overrideReason && (
        <p className="mt-1 font-semibold text-rust">Against the gate, by a lead: {verdict.overrideReason}</p>
      )}
      <ul className="mt-2 list-disc pl-5">
        {proofsOf(verdict.gate).map(({ met, text }) => (
          <li key={text}>
            {met ? '' : 'Not proven: '}
            {text}
          </li>
        ))}
      </ul>
      <p className="label mt-2">
        {link.takenBy}, {when(link.takenAt)} <Seal hash={link.hash} />
      </p>
    </section>
  );
}

function CaptureLines({ capture }: { capture: CaptureItem }) {
  const ramp = capture.analysis?.ramp;
  if (!ramp) return null;
  return (
    <section>
      <h2 className="text-xl">{capture.label}</h2>
      <div className="flex items-center gap-6">
        <ul className="flex-1">
          <li>Pattern: {PATTERN_NAMES[ramp.pattern].toLowerCase()}</li>
          {ramp.steady && (
            <li>
              Mean draw {ramp.steady.meanA.toFixed(2)} A, ripple {ramp.steady.ripplePercent.toFixed(0)} %
            </li>
          )}
          {ramp.rpm !== undefined && ramp.humps && (
            <li>
              Speed {grouped(ramp.rpm)} rpm, {ramp.humps.perRevolution} humps a turn ({ramp.humps.basis})
            </li>
          )}
          {capture.analysis?.findings.map((finding) => (
            <li key={finding.code}>{finding.text}</li>
          ))}
        </ul>
        {ramp.bars && ramp.humps && (
          <div className="w-40">
            <RotorMap bars={ramp.bars} basis={ramp.humps.basis} />
          </div>
        )}
      </div>
    </section>
  );
}

function Seal({ hash }: { hash: string }) {
  return <code className="text-[0.8rem] text-soft">seal {hash.slice(0, 10)}</code>;
}
