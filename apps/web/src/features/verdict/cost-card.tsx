import {
  costOfBeingWrong,
  frontDeskSentence,
  repairPlan,
  VERDICTS,
  weightNeeded,
  type Diagnosis,
  type Verdict,
  type WrongRepair,
} from '@jarro/core';
import { Coins } from 'lucide-react';
import { errorText, useAddNoteMutation, useMeQuery } from '../../app/api';
import { useKept } from '../../app/kept';
import { readNumber } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { useTheBench } from '../case/bench';
import { THE_PARTS } from './parts';

/** What is typed of the costs. */
interface Costs {
  readonly parts: string;
  readonly hours: string;
  readonly comeback: string;
  readonly minutes: string;
}

/** Nothing is ever certain. */
const MOST_SURE = 0.99;
/** Of the tests that are still planned, those that are counted before the verdict. */
const TESTS_COUNTED = 3;

/** What it costs to be wrong: replacing now against testing first, in one sentence for the front desk. */
export function CostCard({ verdict, diagnosis }: { verdict: Verdict; diagnosis: Diagnosis }) {
  const { item, rules } = useTheBench();
  const { data: me } = useMeQuery();
  const [kept, keep] = useKept<Costs>(`cost/${item.id}/${verdict}`);
  const [addNote, { error, isLoading, isSuccess }] = useAddNoteMutation();
  if (!me || verdict === 'no-fault-found') return null;
  const { labourRate, currency } = me.shop;
  const planned = diagnosis.nextTests.slice(0, TESTS_COUNTED).reduce((sum, { minutes }) => sum + minutes, 0);
  const typed = kept ?? {
    parts: '',
    hours: (repairPlan(verdict).minutes / 60).toFixed(1),
    comeback: '',
    minutes: String(planned),
  };
  const asked = askedOf(typed, {
    right: Math.min(MOST_SURE, rightNow(diagnosis, verdict)),
    rightAfterTests: weightNeeded(verdict, rules),
    rate: labourRate,
  });
  const sentence = asked && frontDeskSentence(THE_PARTS[verdict], asked, currency);
  const field = (name: keyof Costs, label: string) => (
    <Field
      label={label}
      inputMode="decimal"
      width="w-36"
      value={typed[name]}
      onChange={(event) => keep({ ...typed, [name]: event.target.value })}
    />
  );
  return (
    <details className="rounded-2xl border border-line p-3">
      <summary className="flex min-h-11 cursor-pointer items-center gap-2 font-semibold">
        <Coins aria-hidden className="size-5 text-steel" /> What being wrong would cost
      </summary>
      <div className="space-y-3">
        <div className="flex flex-wrap gap-3">
          {field('parts', `Parts, ${currency}`)}
          {field('hours', 'Hours of labour')}
          {field('comeback', `A comeback, ${currency}`)}
          {field('minutes', 'Minutes of tests left')}
        </div>
        <p className="label">
          An hour’s labour: {currency} {labourRate} (kept under The shop). A comeback is the second diagnosis, a
          courtesy car, goodwill.
        </p>
        {asked && sentence ? (
          <>
            <Sums asked={asked} currency={currency} />
            <p className="text-lg font-semibold">{sentence}</p>
            <Button
              disabled={isLoading || isSuccess}
              onClick={() => void addNote({ caseId: item.id, stage: 'verdict', text: sentence })}
            >
              {isSuccess ? 'Kept in the case' : 'Keep this sentence in the case'}
            </Button>
          </>
        ) : (
          <p className="text-soft">Type what the parts cost; the rest follows.</p>
        )}
        <ErrorNotice text={errorText(error)} />
      </div>
    </details>
  );
}

function Sums({ asked, currency }: { asked: WrongRepair; currency: string }) {
  const { now, testedFirst } = costOfBeingWrong(asked);
  const rows = [
    ['Replacing now', now],
    ['Testing first', testedFirst],
  ] as const;
  return (
    <dl className="grid grid-cols-2 gap-3">
      {rows.map(([name, { money, hours }]) => (
        <div key={name} className="rounded-xl border border-line p-3">
          <dt className="label">{name}, expected loss</dt>
          <dd>
            <span className="text-3xl font-bold">
              {currency} {money.toFixed(0)}
            </span>{' '}
            and {hours.toFixed(1)} h
          </dd>
        </div>
      ))}
    </dl>
  );
}

function rightNow({ families }: Diagnosis, verdict: Verdict): number {
  const condemned: readonly string[] = VERDICTS[verdict];
  return families
    .filter(({ family }) => condemned.includes(family))
    .reduce((sum, { probability }) => sum + probability, 0);
}

function askedOf(
  { parts, hours, comeback, minutes }: Costs,
  known: Pick<WrongRepair, 'right' | 'rightAfterTests' | 'rate'>,
): WrongRepair | undefined {
  const [cost, labourHours, testMinutes] = [readNumber(parts), readNumber(hours), readNumber(minutes)];
  if (cost === undefined || labourHours === undefined || testMinutes === undefined) return undefined;
  return { ...known, parts: cost, labourHours, testMinutes, comeback: readNumber(comeback) ?? 0 };
}
