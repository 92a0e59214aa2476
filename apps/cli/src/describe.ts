import type { Analysis, CutStep, MeasuredValue, PulseTrain } from '@jarro/core';

const NAMES: Readonly<Record<string, string>> = {
  'ramp.zeroOffsetA': 'Zero of the clamp',
  'ramp.inrushPeakA': 'First peak',
  'ramp.steady.meanA': 'Mean draw',
  'ramp.steady.rippleA': 'Ripple',
  'ramp.steady.ripplePercent': 'Ripple of the draw',
  'ramp.rpm': 'Speed',
  'source.resistanceOhm': 'Source resistance',
  'pressure.primePa': 'Prime pressure',
  'pressure.riseTimeS': 'Rise, 10 to 90 %',
  'pressure.levelPa': 'Level',
  'pressure.lowestPa': 'Lowest',
  'pressure.hold.ratePaPerMin': 'Loss after shut-down',
};
/** Enough digits for each unit to show what was measured, and no more. */
const DECIMALS: Readonly<Record<MeasuredValue['unit'], number>> = {
  A: 2,
  V: 3,
  Ω: 3,
  Hz: 2,
  s: 3,
  rpm: 0,
  '%': 0,
  Pa: 0,
  'Pa/min': 0,
};

function valueLine({ what, value, unit, interval, window, basis }: MeasuredValue): string {
  const digits = DECIMALS[unit];
  const between = interval ? ` (${interval.map((end) => end.toFixed(digits + 1)).join(' to ')})` : '';
  const where = window && window[1] > window[0] ? `, from ${window[0].toFixed(3)} to ${window[1].toFixed(3)} s` : '';
  const name = what.replace(/^balance\.injections\[(\d+)\]\.share$/, (_, i) => `Injection ${Number(i) + 1}`);
  return `${NAMES[what] ?? name}: ${value.toFixed(digits)} ${unit}${between}${where}${basis === 'measured' ? '' : `, ${basis}`}`;
}

function pulseLine(
  name: string,
  { stuck, frequencyHz, dutyPercent, onTimeMs, highV, lowV, missing }: PulseTrain,
): string {
  if (stuck) return `${name}: stays ${stuck}, ${(highV ?? lowV ?? 0).toFixed(2)} V`;
  const rate = frequencyHz > 0 ? `${frequencyHz.toFixed(1)} Hz, ` : '';
  const on = onTimeMs === undefined ? '' : `, on for ${onTimeMs.toFixed(3)} ms`;
  const between = lowV === undefined || highV === undefined ? '' : `, ${lowV.toFixed(2)} to ${highV.toFixed(2)} V`;
  return `${name}: ${rate}duty ${dutyPercent.toFixed(1)} %${on}${between}${missing > 0 ? `, ${missing} pulses missing` : ''}`;
}

function stepLine({ fromS, toS, commandPercent, outputPercent, currentA, pressurePa, supplyV, rpm }: CutStep): string {
  const read = [
    outputPercent !== undefined && `output ${outputPercent.toFixed(1)} %`,
    currentA !== undefined && `${currentA.toFixed(2)} A`,
    pressurePa !== undefined && `${(pressurePa / 1000).toFixed(0)} kPa`,
    supplyV !== undefined && `supply ${supplyV.toFixed(2)} V`,
    rpm !== undefined && `${rpm.toFixed(0)} rpm`,
  ].filter((part) => part !== false);
  return `Step, ${fromS.toFixed(2)} to ${toS.toFixed(2)} s: ${[`command ${commandPercent.toFixed(1)} %`, ...read].join(', ')}`;
}

/** An analysis for reading at the shell. */
export function describe({
  capture,
  ramp,
  pulses,
  drive,
  sweep,
  sequence,
  values,
  findings,
  cannotTell,
}: Analysis): string {
  const lines = [
    `${capture.file}: ${capture.samples} samples at ${capture.sampleRateHz.toPrecision(6)} a second, ${capture.durationS.toFixed(3)} s`,
    ...capture.channels.map(
      ({ name, role, unit, min, max, mean }) =>
        `  ${name} (${role}): mean ${mean.toFixed(3)}, ${min.toFixed(3)} to ${max.toFixed(3)}${unit === '1' ? '' : ` ${unit}`}`,
    ),
  ];
  lines.push(...values.filter(({ what }) => !/^(pulses|sweep)\./.test(what)).map(valueLine));
  for (const [name, train] of Object.entries(pulses ?? {})) lines.push(pulseLine(name, train));
  if (drive) lines.push(`Drive: ${drive.because}`);
  for (const step of sweep ?? []) lines.push(stepLine(step));
  for (const { startS, endS, because } of sequence?.incidents ?? []) {
    lines.push(`${startS.toFixed(3)} to ${endS === undefined ? 'the end' : `${endS.toFixed(3)} s`}: ${because}`);
  }
  if (ramp) {
    lines.push(`Pattern: ${ramp.pattern}`);
    if (ramp.humps) {
      lines.push(
        `Humps: ${ramp.humps.rateHz.toFixed(1)} a second, ${ramp.humps.perRevolution} a turn, ${ramp.humps.basis}`,
        ...(ramp.humps.alternatives ?? []).map(
          ({ rpm, perRevolution, confidence }) =>
            `  or ${rpm.toFixed(0)} rpm, ${perRevolution} humps a turn (${(100 * confidence).toFixed(0)} %)`,
        ),
      );
    }
    if (ramp.runs && ramp.runs.length > 1) {
      lines.push('Runs:');
      for (const { fromS, toS, steady, rpm, basis, pattern } of ramp.runs) {
        const mean = steady ? `, ${steady.meanA.toFixed(2)} A` : '';
        const speed = rpm === undefined ? '' : `, ${rpm.toFixed(0)} rpm${basis === 'assumed' ? ' (assumed)' : ''}`;
        lines.push(`  ${fromS.toFixed(3)} to ${toS.toFixed(3)} s${mean}${speed}, ${pattern}`);
      }
    }
  }
  for (const { severity, text } of findings) lines.push(`${severity === 'act' ? '!' : '-'} ${text}`);
  for (const { what, because } of cannotTell) lines.push(`? ${what}: ${because}`);
  return `${lines.join('\n')}\n`;
}
