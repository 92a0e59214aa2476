import { BLOCK_NAMES, shownAs, type HoldRecord } from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';
import { XyLines, type XyLine } from '../../charts/xy-lines';

const MINUTES_FROM_S = 180;

const DASHES: Partial<Record<HoldRecord['blocked'], readonly number[]>> = { supply: [6, 4], return: [2, 3] };

/** Pressure over minutes, a line a test; which line was blocked shows in its dashes. */
export function HoldCurve({ records, unit }: { records: readonly HoldRecord[]; unit: PressureUnitName }) {
  const lines = records.map((record, i): XyLine => {
    const dash = DASHES[record.blocked];
    const name = `${i + 1}. ${BLOCK_NAMES[record.blocked].toLowerCase()}`;
    return { name, points: record.points, tone: 'ink', ...(dash && { dash }) };
  });
  return <HoldLines lines={lines} unit={unit} />;
}

/** @param lines s and Pa */
export function HoldLines({ lines, unit }: { lines: readonly XyLine[]; unit: PressureUnitName }) {
  const { text } = shownAs('Pa', 'rail', unit);
  const longestS = Math.max(...lines.map(({ points }) => points[points.length - 1][0]));
  const [perTick, tick] = longestS > MINUTES_FROM_S ? [60, 'min'] : [1, 's'];
  return (
    <XyLines
      label="Pressure over time after shut-down"
      lines={lines.map((line) => ({
        ...line,
        points: line.points.map(([atS, pascal]) => [atS / perTick, Number(text(pascal))] as const),
      }))}
      xText={(x) => `${x} ${tick}`}
    />
  );
}
