import { pressureText, type BalanceResult } from '@jarro/core';
import { usePressureUnit } from '../../app/units';

/** A bar's whole width: beyond twice the others a length tells no more. */
const MOST_SHARE = 2;

/** What each cylinder takes from the rail, one bar each in the firing order. */
export function Injections({ balance }: { balance: BalanceResult }) {
  const unit = usePressureUnit();
  const { cycles, fall, unit: of, pumpOff, injections } = balance;
  const odd = injections.filter(({ unlike }) => unlike);
  return (
    <section aria-label="Injections, one by one" className="space-y-2">
      <p className={`text-2xl leading-tight font-bold ${odd.length > 0 ? 'text-rust' : 'text-mineral'}`}>
        {odd.length === 0
          ? 'All injectors take alike'
          : odd.map(({ order, share }) => `No. ${order} takes ${percent(share)} of the others`).join(', ')}
      </p>
      <ol aria-label="Injections" className="space-y-1">
        {injections.map(({ order, share, unlike, interval: [least, most] }) => (
          <li key={order} className="grid grid-cols-[3rem_minmax(0,1fr)_7.5rem] items-center gap-2">
            <span className="font-semibold">No. {order}</span>
            <span aria-hidden className="h-5 rounded bg-line">
              <span
                className={`block h-full rounded ${unlike ? 'bg-rust' : 'bg-steel'}`}
                style={{ width: `${(100 * Math.min(MOST_SHARE, Math.max(0, share))) / MOST_SHARE}%` }}
              />
            </span>
            <span className="text-right text-lg font-bold">
              {percent(share)}{' '}
              <span className="text-[0.93rem] font-normal text-soft">± {(50 * (most - least)).toFixed(0)}</span>
            </span>
          </li>
        ))}
      </ol>
      <p className="label">
        In the firing order, counted from the recorded injector; 100 % is the middle one. {cycles} engine cycles,{' '}
        {pumpOff ? 'with the pump off' : 'with the pump running'}; an injection takes{' '}
        {of === 'Pa' ? `${pressureText(fall, unit)} ${unit}` : `${(1000 * fall).toFixed(0)} mV of the sensor`}.
      </p>
    </section>
  );
}

const percent = (share: number) => `${(100 * share).toFixed(0)} %`;
