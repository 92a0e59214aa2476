import type { Analysis } from '../analyze.js';
import type { Role } from '../capture/capture.js';
import type { CutStep } from '../measure/pulses/sweep-steps.js';
import type { PulseTrain } from '../measure/pulses/types.js';
import type { CaptureEntry } from '../pressure/capture-entries.js';
import type { KeyState } from '../terms/key-states.js';

/** Where a line's duty stands among the evidence. */
const DUTY_PLACES: Readonly<Partial<Record<Role, string>>> = {
  command_signal: 'command',
  module_output_voltage: 'output',
  feedback_signal: 'feedback',
};

/**
 * What a capture of a driven pump's lines, or of volts, current and pressure while it faltered, says as evidence: the duty of
 * each line and the volts that the module is supplied with meanwhile, or the sweep where the command was stepped, what the feed loses for each ampere, what the battery keeps while the engine
 * cranks, what let go, and whether the injectors take alike. A line that is neither high nor low, and incidents that point to both sides, say nothing.
 * @param supplyAt the station at which the module's supply is read, on a path that has one
 */
export function signalEntries(
  {
    capture,
    pulses = {},
    drive,
    sweep,
    source,
    sequence,
    balance,
    cranking = [],
    findings,
  }: Pick<
    Analysis,
    'capture' | 'pulses' | 'drive' | 'sweep' | 'source' | 'sequence' | 'balance' | 'cranking' | 'findings'
  >,
  keyState: KeyState,
  supplyAt?: string,
): CaptureEntry[] {
  // Over a command that was stepped one duty says nothing.
  const duties = sweep
    ? [sweepEntry(sweep, keyState)]
    : capture.channels.flatMap(({ name, role }): CaptureEntry[] => {
        const at = DUTY_PLACES[role];
        const train = pulses[name];
        if (at === undefined || train === undefined || train.stuck === 'between') return [];
        return [{ kind: 'duty', at, value: Number(dutyOf(train).toFixed(1)), keyState }];
      });
  const seen = sequence ? faltered(sequence, capture) : byClampAlone(findings);
  const supplied = sweep ? [] : supplyEntry(drive?.supplyV, supplyAt, keyState);
  const ohm = source?.resistanceOhm;
  const lost = ohm === undefined ? [] : [sourceEntry(ohm, sequence, keyState)];
  const beside = balance ? [balanceEntry(balance.injections, keyState)] : [];
  const cranked = crankedBattery(cranking);
  return [
    ...duties,
    ...supplied,
    ...lost,
    ...beside,
    ...cranked,
    ...(seen ? [{ kind: 'fell-first', ...seen, keyState } as const] : []),
  ];
}

/**
 * One record of a pump that falters is one piece of evidence, whatever it shows: what the current did while the volts stood,
 * where all times agree, or else what fell first.
 */
function faltered(
  { cause, incidents }: NonNullable<Analysis['sequence']>,
  { channels }: Analysis['capture'],
): { readonly at: string; readonly value: string } | undefined {
  const [first, ...others] = incidents.map(({ currentThen }) => currentThen);
  const isAlike = others.every((other) => other === first);
  if (isAlike && (first === 'gone' || first === 'less' || first === 'more')) return { at: 'current', value: first };
  const fell = FELL[cause];
  // Volts that stood say only which side it is; that the pressure fell has to be on the record.
  const hasPressure = channels.some(({ role }) => role === 'rail_pressure');
  return fell === 'voltage' || (fell === 'pressure' && hasPressure) ? { at: 'stall', value: fell } : undefined;
}

/**
 * A rotor that came to stand draws more than any volts could make it draw: that needs no meter beside it. A current that broke
 * off was gone; what the volts did then nobody knows.
 */
function byClampAlone(findings: Analysis['findings']): ReturnType<typeof faltered> {
  const has = (wanted: string) => findings.some(({ code }) => code === wanted);
  if (has('stall')) return { at: 'current', value: 'more' };
  return has('interrupted') ? { at: 'current', value: 'broke-off' } : undefined;
}

/** Against battery −, where a recorder's ground is clipped. */
function supplyEntry(volts: number | undefined, at: string | undefined, keyState: KeyState): CaptureEntry[] {
  if (volts === undefined || at === undefined) return [];
  return [{ kind: 'voltage', at, value: Number(volts.toFixed(2)), keyState }];
}

/** It is measured where the volts don't fail by themselves: in a record of what comes and goes, while that was away. */
function sourceEntry(ohm: number, sequence: Analysis['sequence'], keyState: KeyState): CaptureEntry {
  const away = sequence !== undefined && sequence.incidents.length > 0;
  const entry = { kind: 'source', at: 'feed', value: Number(ohm.toPrecision(2)), keyState } as const;
  return away ? { ...entry, faultPresent: false } : entry;
}

/** What the battery keeps while the starter turns, where its own volts are on the record. */
function crankedBattery(cranks: NonNullable<Analysis['cranking']>): CaptureEntry[] {
  const volts = cranks.find(({ seenIn }) => seenIn === 'battery_voltage')?.volts;
  if (!volts) return [];
  return [{ kind: 'battery', at: 'cranking', value: Number(volts.mean.toFixed(2)), keyState: 'cranking' }];
}

function balanceEntry(injections: NonNullable<Analysis['balance']>['injections'], keyState: KeyState): CaptureEntry {
  const value = injections.some(({ unlike }) => unlike) ? 'one-differs' : 'alike';
  return { kind: 'injectors', at: 'balance', value, keyState };
}

/** Steps as a sheet has them: tenths of a duty, hundredths of an ampere and a volt, kPa, whole turns a minute. */
function sweepEntry(steps: readonly CutStep[], keyState: KeyState): CaptureEntry {
  return {
    kind: 'sweep',
    at: 'module',
    value: {
      steps: steps.map(({ commandPercent, outputPercent, currentA, pressurePa, supplyV, rpm }) => ({
        commandPercent: tenth(commandPercent),
        ...(outputPercent !== undefined && { outputPercent: tenth(outputPercent) }),
        ...(currentA !== undefined && { currentA: Number(Math.max(0, currentA).toFixed(2)) }),
        ...(pressurePa !== undefined && { pressurePa: Math.max(0, Math.round(pressurePa / 1000) * 1000) }),
        ...(supplyV !== undefined && { supplyV: Number(Math.max(0, supplyV).toFixed(2)) }),
        ...(rpm !== undefined && { rpm: Math.round(rpm) }),
      })),
    },
    keyState,
  };
}

const tenth = (percent: number) => Number(percent.toFixed(1));

const FELL = {
  none: undefined,
  upstream: 'voltage',
  pump: 'pressure',
  hydraulic: 'pressure',
  undetermined: undefined,
} as const;

/** What the module is asked for or gives counts missing pulses in. */
function dutyOf({ dutyPercent, usualDutyPercent, missing }: PulseTrain): number {
  return missing > 0 ? dutyPercent : (usualDutyPercent ?? dutyPercent);
}
