import type { SweepStep } from '@jarro/core';
import { XyLines, type XyLine } from '../../charts/xy-lines';

interface NamedSweep extends Pick<XyLine, 'name' | 'tone' | 'dash'> {
  readonly steps: readonly SweepStep[];
}

/** Pump current over the commanded duty, a line a sweep; nothing where fewer than two steps have both. */
export function SweepLines({ sweeps }: { sweeps: readonly NamedSweep[] }) {
  const lines = sweeps
    .map(({ steps, ...line }): XyLine => {
      const points = steps.flatMap(({ commandPercent, currentA }) =>
        currentA === undefined ? [] : [[commandPercent, currentA] as const],
      );
      return { ...line, points: points.sort(([a], [b]) => a - b) };
    })
    .filter(({ points }) => points.length > 1);
  if (lines.length === 0) return null;
  return (
    <XyLines
      label="Pump current over the commanded duty"
      lines={lines}
      xText={(percent) => `${percent} %`}
      yText={(amperes) => `${amperes} A`}
      height="h-44"
    />
  );
}
