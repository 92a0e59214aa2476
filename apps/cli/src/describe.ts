import type { Analysis } from '@jarro/core';

/** An analysis for reading at the shell. */
export function describe({ capture, ramp, findings, cannotTell }: Analysis): string {
  const lines = [
    `${capture.file}: ${capture.samples} samples at ${capture.sampleRateHz.toPrecision(6)} a second, ${capture.durationS.toFixed(3)} s`,
    ...capture.channels.map(
      ({ name, role, unit, min, max, mean }) =>
        `  ${name} (${role}): mean ${mean.toFixed(3)}, ${min.toFixed(3)} to ${max.toFixed(3)}${unit === '1' ? '' : ` ${unit}`}`,
    ),
  ];
  if (ramp) {
    lines.push(`Pattern: ${ramp.pattern}`);
    if (ramp.inrushPeakA !== undefined) lines.push(`First peak: ${ramp.inrushPeakA.toFixed(1)} A`);
    if (ramp.steady) {
      lines.push(
        `Steady: ${ramp.steady.meanA.toFixed(2)} A, ripple ${ramp.steady.rippleA.toFixed(2)} A (${ramp.steady.ripplePercent.toFixed(0)} %)`,
      );
    }
    if (ramp.rpm !== undefined && ramp.rpmInterval && ramp.humps) {
      const [low, high] = ramp.rpmInterval;
      lines.push(
        `Speed: ${ramp.rpm.toFixed(0)} rpm (${low.toFixed(1)} to ${high.toFixed(1)}), ${ramp.humps.perRevolution} humps a turn, ${ramp.humps.basis}`,
        ...(ramp.humps.alternatives ?? []).map(
          ({ rpm, perRevolution, confidence }) =>
            `  or ${rpm.toFixed(0)} rpm, ${perRevolution} humps a turn (${(100 * confidence).toFixed(0)} %)`,
        ),
      );
    }
    if (ramp.runs && ramp.runs.length > 1) {
      lines.push('Runs:');
      for (const { fromS, toS, steady, rpm, pattern } of ramp.runs) {
        const mean = steady ? `, ${steady.meanA.toFixed(2)} A` : '';
        const speed = rpm === undefined ? '' : `, ${rpm.toFixed(0)} rpm`;
        lines.push(`  ${fromS.toFixed(3)} to ${toS.toFixed(3)} s${mean}${speed}, ${pattern}`);
      }
    }
  }
  for (const { severity, text } of findings) lines.push(`${severity === 'act' ? '!' : '-'} ${text}`);
  for (const { what, because } of cannotTell) lines.push(`? ${what}: ${because}`);
  return `${lines.join('\n')}\n`;
}
