import type { CannotTell, Finding } from '@jarro/core';
import { CircleHelp, Info, TriangleAlert } from 'lucide-react';

/** In the order in which they are read. */
const MARKS = {
  act: { mark: TriangleAlert, tone: 'text-rust', word: 'act' },
  'keep-in-mind': { mark: Info, tone: 'text-ochre', word: 'keep in mind' },
  info: { mark: Info, tone: 'text-steel', word: 'note' },
} as const;

const RANKS = Object.keys(MARKS);
const byRank = (a: Finding, b: Finding) => RANKS.indexOf(a.severity) - RANKS.indexOf(b.severity);
const asksToAct = ({ severity }: Finding) => severity === 'act';

/** What asks to be acted on: it belongs beside the numbers, where it is read before the trace is. */
export function ToActOn({ findings }: { findings: readonly Finding[] }) {
  const acts = findings.filter(asksToAct);
  if (acts.length === 0) return null;
  return (
    <ul aria-label="To act on" className="divide-y divide-line border-y border-line">
      {acts.map((finding) => (
        <Said key={finding.code + finding.text} finding={finding} isNarrow />
      ))}
    </ul>
  );
}

/** What else the numbers say in plain words, with the rule behind each, and what they can't say. */
export function Findings({
  findings,
  cannotTell,
}: {
  findings: readonly Finding[];
  cannotTell: readonly CannotTell[];
}) {
  const others = findings.filter((finding) => !asksToAct(finding)).sort(byRank);
  if (others.length + cannotTell.length === 0 && findings.length > 0) return null;
  return (
    <ul aria-label="Findings" className="divide-y divide-line border-y border-line">
      {findings.length === 0 && cannotTell.length === 0 && (
        <li className="py-2 text-mineral">Nothing stands out: draw, humps and repeat are as they should be.</li>
      )}
      {others.map((finding) => (
        <Said key={finding.code + finding.text} finding={finding} />
      ))}
      {cannotTell.map(({ what, because }) => (
        <li key={what + because} className="grid gap-x-4 py-2 sm:grid-cols-[8.5rem_1fr]">
          <span className="flex items-center gap-1.5 self-start font-semibold text-soft">
            <CircleHelp aria-hidden className="size-4" /> can’t tell
          </span>
          <span className="first-letter:uppercase">{because.replace(/\.?$/, '.')}</span>
        </li>
      ))}
    </ul>
  );
}

/** @param isNarrow its mark is one of the short ones, and height is dear */
function Said({
  finding: { severity, text, rule, source },
  isNarrow = false,
}: {
  finding: Finding;
  isNarrow?: boolean;
}) {
  const { mark: Mark, tone, word } = MARKS[severity];
  return (
    <li className={`grid gap-x-4 py-2 ${isNarrow ? 'sm:grid-cols-[auto_1fr]' : 'sm:grid-cols-[8.5rem_1fr]'}`}>
      <span className={`flex items-center gap-1.5 self-start font-semibold ${tone}`}>
        <Mark aria-hidden className="size-4" /> {word}
      </span>
      <span>
        {text}
        <span className="label block">
          {rule} ({source})
        </span>
      </span>
    </li>
  );
}
