import { type PressureResult, pressureText } from '@jarro/core';
import { usePressureUnit } from '../../app/units';

/** What a recorded rail pressure measured, in a line of numbers. */
export function PressureNumbers({ pressure }: { pressure: PressureResult }) {
  const unit = usePressureUnit();
  const { primePa, riseTimeS, highestPa, hold } = pressure;
  const numbers = [
    ...(primePa === undefined ? [] : [{ name: 'Prime', value: pressureText(primePa, unit), unit }]),
    ...(riseTimeS === undefined ? [] : [{ name: 'Rise, 10 to 90 %', value: riseTimeS.toFixed(2), unit: 's' }]),
    { name: 'Highest', value: pressureText(highestPa, unit), unit },
    ...(hold ? [{ name: 'Lost a minute', value: pressureText(hold.ratePaPerMin, unit), unit }] : []),
  ];
  return (
    <dl className="flex flex-wrap gap-x-7 gap-y-2">
      {numbers.map(({ name, value, unit: of }) => (
        <div key={name}>
          <dt className="label">{name}</dt>
          <dd className="text-2xl font-bold">
            {value} <span className="text-base font-normal text-soft">{of}</span>
          </dd>
        </div>
      ))}
    </dl>
  );
}
