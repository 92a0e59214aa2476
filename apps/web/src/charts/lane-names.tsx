import { LINES } from './lane-chart';
import { isNamed, type TraceLane } from './signals';

/** What a lane shows; where it shows several, how each is drawn. */
export function LaneNames({ lane }: { lane: TraceLane }) {
  return (
    <p className="label flex flex-wrap gap-x-5 pl-14 leading-none">
      {lane.map(({ id, name, unit }, i) => {
        const look = LINES[i % LINES.length];
        return (
          <span key={id} className="inline-flex items-center gap-1.5">
            {lane.length > 1 && (
              <svg aria-hidden width="26" height="8">
                <line
                  x1="0"
                  x2="26"
                  y1="4"
                  y2="4"
                  stroke={`var(${look.token})`}
                  strokeWidth="2"
                  strokeDasharray={look.dash.join(' ')}
                />
              </svg>
            )}
            <span>
              <span className="font-semibold text-ink">{name}</span>
              {isNamed(unit) && `, ${unit}`}
            </span>
          </span>
        );
      })}
    </p>
  );
}
