import { VERDICT_NAMES, type Verdict } from '@jarro/core';
import { Link } from 'react-router';
import { errorText, useLearnedQuery } from '../../app/api';
import type { Learned } from '@jarro/api-types';
import { ErrorNotice } from '../../ui/notice';

/** What the shop's own cases amount to: what was found, which pumps were saved, and what a verdict takes. */
export function LearnedPage() {
  const { data: learned, error } = useLearnedQuery();
  return (
    <main className="mx-auto max-w-[1080px] space-y-4 p-4">
      <header>
        <h1 className="text-3xl">What we learned</h1>
        <p className="text-soft">From this shop’s own cases, closed and proven.</p>
      </header>
      <ErrorNotice text={errorText(error)} />
      {learned && (
        <>
          <Figures learned={learned} />
          <Found learned={learned} />
        </>
      )}
    </main>
  );
}

function Figures({ learned }: { learned: Learned }) {
  const { closed, comebacks, quoted, saved, decided, medianReadings, medianMinutes } = learned;
  const figures = [
    { value: `${saved} of ${quoted}`, text: 'pumps saved: condemned by somebody before, and good' },
    {
      value: medianReadings === null ? '–' : medianReadings.toFixed(0),
      text: `readings to a verdict, the middle of ${decided} cases`,
    },
    {
      value: medianMinutes === null ? '–' : `${medianMinutes.toFixed(0)} min`,
      text: 'from the first reading to the verdict',
    },
    { value: String(comebacks), text: `comebacks among ${closed} closed cases` },
  ];
  return (
    <dl className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
      {figures.map(({ value, text }) => (
        <div key={text} className="card flex flex-col-reverse justify-end p-4">
          <dt className="text-soft">{text}</dt>
          <dd className="text-4xl font-bold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function Found({ learned: { found, overridden, counted } }: { learned: Learned }) {
  const rows = (Object.entries(found) as [Verdict, number][]).sort((a, b) => b[1] - a[1]);
  const most = Math.max(1, ...rows.map(([, count]) => count));
  return (
    <section aria-label="What was found" className="card space-y-3 p-5">
      <h2 className="text-xl">What was found</h2>
      {rows.length === 0 && <p className="text-soft">No case is closed yet on what the evidence allowed.</p>}
      <ul className="space-y-2">
        {rows.map(([verdict, count]) => (
          <li key={verdict} className="grid grid-cols-[minmax(10rem,16rem)_1fr_3rem] items-center gap-3">
            <span>{VERDICT_NAMES[verdict]}</span>
            <span className="h-3 rounded-full bg-line">
              <span className="block h-3 rounded-full bg-steel" style={{ width: `${(100 * count) / most}%` }} />
            </span>
            <span className="text-right text-xl font-bold">{count}</span>
          </li>
        ))}
      </ul>
      {overridden > 0 && (
        <p className="label">
          {overridden === 1 ? 'One more was' : `${overridden} more were`} closed on a lead’s word against the gate; such
          cases teach nothing.
        </p>
      )}
      <p>
        {counted
          ? 'The weights count these cases: what is found often here weighs more, what is seldom found keeps a quarter of its usual weight at least.'
          : 'The weights don’t count these cases.'}{' '}
        <Link to="/rules" className="font-semibold text-steel underline">
          House rules
        </Link>{' '}
        decide that.
      </p>
    </section>
  );
}
