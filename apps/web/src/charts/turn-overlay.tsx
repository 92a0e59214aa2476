import { alignTurns, type TurnEnvelope } from '@jarro/core';

const WIDTH = 460;
const HEIGHT = 180;
const LEFT = 44;
const BOTTOM = 24;
const TOP = 10;

export interface NamedTurn {
  readonly name: string;
  /** A, by equal steps of a turn. */
  readonly turnA: readonly number[];
}

/**
 * One turn of the pump current, and a second one laid on the same angle where there is one.
 * @param band what the first is the middle of
 */
export function TurnOverlay({
  before,
  after,
  band,
}: {
  before: NamedTurn;
  after?: NamedTurn;
  band?: Pick<TurnEnvelope, 'least' | 'most'>;
}) {
  const { reference, other } = alignTurns(before.turnA, after?.turnA ?? before.turnA);
  const all = [...reference, ...other, ...(band ? [...band.least, ...band.most] : [])];
  const most = Math.max(...all) * 1.05;
  const least = Math.min(0, ...all);
  const x = (i: number) => LEFT + (i / reference.length) * (WIDTH - LEFT - 8);
  const y = (amperes: number) => TOP + ((most - amperes) / (most - least)) * (HEIGHT - TOP - BOTTOM);
  const path = (turn: Float64Array) =>
    [...turn].map((amperes, i) => `${i === 0 ? 'M' : 'L'}${x(i).toFixed(1)} ${y(amperes).toFixed(1)}`).join('');
  // There along the highest, and back along the lowest.
  const outline = ({ least: low, most: high }: Pick<TurnEnvelope, 'least' | 'most'>) =>
    `${path(high)}${[...low]
      .map((amperes, i) => `L${x(i).toFixed(1)} ${y(amperes).toFixed(1)}`)
      .reverse()
      .join('')}Z`;
  return (
    <figure className="m-0">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`One turn of the pump current: ${before.name}${after ? ` and ${after.name} on one angle` : ''}`}
      >
        {[0, 0.5, 1].map((share) => {
          const amperes = least + share * (most - least);
          return (
            <g key={share}>
              <line x1={LEFT} x2={WIDTH - 8} y1={y(amperes)} y2={y(amperes)} stroke="var(--line)" />
              <text
                x={LEFT - 6}
                y={y(amperes)}
                textAnchor="end"
                dominantBaseline="central"
                fontSize="13"
                fill="var(--soft)"
              >
                {amperes.toFixed(1)} A
              </text>
            </g>
          );
        })}
        {[0, 90, 180, 270, 360].map((degrees) => (
          <text
            key={degrees}
            x={LEFT + (degrees / 360) * (WIDTH - LEFT - 8)}
            y={HEIGHT - 6}
            textAnchor={degrees === 360 ? 'end' : 'middle'}
            fontSize="13"
            fill="var(--soft)"
          >
            {degrees}°
          </text>
        ))}
        {band && <path d={outline(band)} fill="var(--rust)" opacity="0.18" />}
        <path
          d={path(reference)}
          fill="none"
          stroke="var(--rust)"
          strokeWidth="2"
          {...(after && { strokeDasharray: '7 4' })}
        />
        {after && <path d={path(other)} fill="none" stroke="var(--steel)" strokeWidth="2.5" />}
      </svg>
      <figcaption className="label flex flex-wrap gap-x-5">
        <span>
          <span className="font-bold text-rust">{after ? '- - -' : '━━'}</span> {before.name}
        </span>
        {after && (
          <span>
            <span className="font-bold text-steel">━━</span> {after.name}
          </span>
        )}
        <span>{after ? 'one turn each, laid on the same angle' : 'one turn'}</span>
      </figcaption>
    </figure>
  );
}
