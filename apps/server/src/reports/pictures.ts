import { alignTurns, type CaseLadder, type ReportedCapture } from '@jarro/core';
import { INK, LINE, printable, RUST, SOFT, STEEL } from './paper.js';

type Bars = NonNullable<ReportedCapture['bars']>;

const escaped = (words: string) => printable(words).replace(/&/g, '&amp;').replace(/</g, '&lt;');

function svg(width: number, height: number, inner: string): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">${inner}</svg>`;
}

function label(x: number, y: number, words: string, { anchor = 'start', color = SOFT, size = 9 } = {}): string {
  return `<text x="${x}" y="${y}" text-anchor="${anchor}" font-size="${size}" fill="${color}">${escaped(words)}</text>`;
}

/** One turn of the pump current; a second one laid on the same angle where there is one. @param width px */
export function turnPicture(before: readonly number[], after: readonly number[] | undefined, width: number): string {
  const height = 120;
  const [left, foot] = [34, 16];
  const { reference, other } = alignTurns(before, after ?? before);
  const all = [...reference, ...other];
  const most = Math.max(...all) * 1.05;
  const least = Math.min(0, ...all);
  const x = (i: number) => left + (i / reference.length) * (width - left - 4);
  const y = (amperes: number) => 6 + ((most - amperes) / (most - least)) * (height - foot - 6);
  const path = (turn: Float64Array) =>
    [...turn].map((amperes, i) => `${i === 0 ? 'M' : 'L'}${x(i).toFixed(1)} ${y(amperes).toFixed(1)}`).join('');
  const grid = [0, 0.5, 1].map((share) => {
    const amperes = least + share * (most - least);
    return `<line x1="${left}" x2="${width - 4}" y1="${y(amperes)}" y2="${y(amperes)}" stroke="${LINE}" stroke-width="0.6"/>${label(left - 4, y(amperes) + 3, `${amperes.toFixed(1)} A`, { anchor: 'end' })}`;
  });
  const dashes = after ? ' stroke-dasharray="5 3"' : '';
  return svg(
    width,
    height,
    [
      ...grid,
      label(left, height - 4, 'one turn'),
      label(width - 4, height - 4, '360°', { anchor: 'end' }),
      `<path d="${path(reference)}" fill="none" stroke="${RUST}" stroke-width="1.4"${dashes}/>`,
      after ? `<path d="${path(other)}" fill="none" stroke="${STEEL}" stroke-width="1.7"/>` : '',
    ].join(''),
  );
}

/** The commutator, a bar a sector, its length the bar's current; low bars carry their number and a mark. */
export function rotorPicture(bars: Bars): string {
  const size = 120;
  const [centre, hub, rim] = [size / 2, 14, 44];
  const highest = Math.max(...bars.map(({ relative }) => relative));
  const lowest = Math.min(...bars.map(({ relative }) => relative), highest - 0.4);
  const step = (2 * Math.PI) / bars.length;
  const at = (radius: number, angle: number) =>
    `${(centre + radius * Math.sin(angle)).toFixed(1)} ${(centre - radius * Math.cos(angle)).toFixed(1)}`;
  return svg(
    size,
    size,
    bars
      .map(({ index, relative, state }, i) => {
        const [from, to] = [i * step + 0.05, (i + 1) * step - 0.05];
        const radius = hub + ((rim - hub) * (relative - lowest + 0.06)) / (highest - lowest + 0.06);
        const bad = state !== 'sound';
        const [x, y] = at(rim + 9, (from + to) / 2)
          .split(' ')
          .map(Number);
        const sector = `M${at(radius, from)} A${radius} ${radius} 0 0 1 ${at(radius, to)} L${at(hub, to)} A${hub} ${hub} 0 0 0 ${at(hub, from)}Z`;
        return `<path d="${sector}" fill="${bad ? RUST : STEEL}"/>${label(x, y + 3, `${index}${bad ? '!' : ''}`, { anchor: 'middle', color: bad ? RUST : SOFT })}`;
      })
      .join(''),
  );
}

/** The loaded volts of the path's supply side as a staircase, healthy beside measured. @param width px */
export function stairsPicture({ rungs }: CaseLadder, width: number): string {
  const supply = rungs.filter(({ side }) => side !== 'ground');
  const volts = supply.flatMap(({ volts: read, healthyV }) => (read === undefined ? [healthyV] : [read, healthyV]));
  const height = 110;
  const [top, floor] = [8, 78];
  const most = Math.max(...volts);
  const least = Math.min(...volts, most - 1);
  const cell = width / supply.length;
  const y = (value: number) => top + ((most - value) / (most - least)) * (floor - top);
  const healthy = supply.map(({ healthyV }, i) => `${i === 0 ? 'M' : 'L'}${i * cell} ${y(healthyV)}H${(i + 1) * cell}`);
  const read = supply.flatMap((rung, i) => (rung.volts === undefined ? [] : [{ i, at: rung.volts, rung }]));
  const treads = read.map(
    ({ i, at, rung }) =>
      `<line x1="${i * cell}" x2="${(i + 1) * cell}" y1="${y(at)}" y2="${y(at)}" stroke="${rung.standing === 'suspect' ? RUST : INK}" stroke-width="2.4"/>`,
  );
  const names = supply.map(({ station, volts: here }, i) => {
    const middle = (i + 0.5) * cell;
    const size = Math.min(7.5, (cell / Math.max(6, station.name.length)) * 1.9);
    return `${label(middle, floor + 14, here === undefined ? '' : `${here.toFixed(2)} V`, { anchor: 'middle', color: INK, size: 8 })}${label(middle, floor + 26, station.name, { anchor: 'middle', size })}`;
  });
  return svg(
    width,
    height,
    [
      `<path d="${healthy.join('')}" fill="none" stroke="${STEEL}" stroke-width="1" stroke-dasharray="3 2"/>`,
      ...treads,
      ...names,
    ].join(''),
  );
}
