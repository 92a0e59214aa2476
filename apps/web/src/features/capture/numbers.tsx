import { LIMITS, type Alternative, type RampResult, grouped, PATTERN_NAMES } from '@jarro/core';

/** The numbers that matter, biggest first, each with its interval or basis beside it. */
export function Numbers({ ramp }: { ramp: RampResult }) {
  const { steady, rpm, rpmInterval, humps, inrushPeakA, pattern } = ramp;
  return (
    <dl className="flex flex-wrap gap-x-7 gap-y-2">
      {steady && <Item label="Mean draw" value={`${steady.meanA.toFixed(2)} A`} />}
      {rpm !== undefined && rpmInterval && humps && (
        <Item
          label={`Speed, ${humps.basis === 'measured' ? 'measured' : `bars ${humps.basis}`}`}
          value={grouped(rpm)}
          note={`rpm ± ${fine((rpmInterval[1] - rpmInterval[0]) / 2)}`}
          doubtful={humps.basis === 'assumed'}
        />
      )}
      {steady && (
        <Item
          label="Ripple"
          value={`${steady.ripplePercent.toFixed(0)} %`}
          // What a driver makes of the current is no ripple of the pump's.
          {...(pattern !== 'pulsed' && { note: `advice ${LIMITS.ripplePercent.value}` })}
        />
      )}
      {inrushPeakA !== undefined && <Item label="First peak" value={`${inrushPeakA.toFixed(1)} A`} />}
      <Item label="Pattern" value={PATTERN_NAMES[pattern]} />
      {humps?.alternatives && <Alternatives alternatives={humps.alternatives} />}
    </dl>
  );
}

/** What the humps may mean as well, so that nobody takes a likely speed for a sure one. */
function Alternatives({ alternatives }: { alternatives: readonly Alternative[] }) {
  const said = alternatives
    .slice(0, 3)
    .map(({ rpm, perRevolution, confidence }) => {
      const share = confidence < 0.1 ? 'hardly' : confidence < 0.3 ? 'less likely' : 'nearly as likely';
      return `${grouped(rpm)} rpm with ${perRevolution} humps a turn (${share})`;
    })
    .join(', ');
  return (
    <div className="w-full">
      <dt className="sr-only">Other readings of the humps</dt>
      <dd className="text-soft">It could also be {said}.</dd>
    </div>
  );
}

function fine(rpm: number): string {
  return rpm < 10 ? Math.max(0.1, rpm).toFixed(1) : grouped(rpm);
}

function Item({
  label,
  value,
  note,
  doubtful = false,
}: {
  label: string;
  value: string;
  note?: string;
  doubtful?: boolean;
}) {
  return (
    <div>
      <dt className={doubtful ? 'text-[0.87rem] font-semibold text-ochre' : 'label'}>{label}</dt>
      <dd className="text-2xl leading-tight font-bold">
        {value} {note && <span className="text-[0.93rem] font-normal text-soft">{note}</span>}
      </dd>
    </div>
  );
}
