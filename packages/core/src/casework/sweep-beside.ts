import type { SweepStep } from '../measure/pulses/sweep-record.js';

/** A step of a sweep, and what a known-good read at the same command. */
export interface StepBeside {
  readonly step: SweepStep;
  /** Between its two nearest steps, straight; absent where it was never commanded so. */
  readonly good?: SweepStep;
}

/** A duty sweep beside a known-good’s. */
export interface SweepBeside {
  readonly steps: readonly StepBeside[];
  /** What they say together; absent where they say nothing for sure. */
  readonly says?: string;
}

/** A scan tool's steps are set by hand: commands this near to each other are one, points. */
const SAME_COMMAND = 1;
/** Sound pumps of one kind differ by less (common practice, no published source; as `USUAL` of known-goods). */
const ALIKE = 0.15;
/** A module that passes half or less; in between it may be many things (common practice, no published source). */
const MUCH_LESS = 0.75;
const FEWEST_STEPS = 2;

const READ = ['outputPercent', 'currentA', 'pressurePa', 'supplyV', 'rpm'] as const;

/** Holds a duty sweep against a known-good's, step by step. */
export function sweepBeside(steps: readonly SweepStep[], good: readonly SweepStep[]): SweepBeside {
  const beside = steps.map((step): StepBeside => {
    const theirs = stepAt(good, step.commandPercent);
    return { step, ...(theirs && { good: theirs }) };
  });
  const says = saying(beside);
  return { steps: beside, ...(says && { says }) };
}

function stepAt(good: readonly SweepStep[], commandPercent: number): SweepStep | undefined {
  const near = good.find((step) => Math.abs(step.commandPercent - commandPercent) <= SAME_COMMAND);
  if (near) return { ...near, commandPercent };
  const below = nearest(
    good.filter((step) => step.commandPercent < commandPercent),
    commandPercent,
  );
  const above = nearest(
    good.filter((step) => step.commandPercent > commandPercent),
    commandPercent,
  );
  if (!below || !above) return undefined;
  const along = (commandPercent - below.commandPercent) / (above.commandPercent - below.commandPercent);
  const between = READ.flatMap((what) => {
    const [from, to] = [below[what], above[what]];
    return from === undefined || to === undefined ? [] : [[what, from + along * (to - from)] as const];
  });
  return { commandPercent, ...Object.fromEntries(between) };
}

function nearest(steps: readonly SweepStep[], commandPercent: number): SweepStep | undefined {
  const away = (step: SweepStep) => Math.abs(step.commandPercent - commandPercent);
  return steps.reduce<SweepStep | undefined>((a, b) => (a && away(a) <= away(b) ? a : b), undefined);
}

function saying(beside: readonly StepBeside[]): string | undefined {
  const shares = sharesOf(beside, 'currentA');
  if (shares.length < FEWEST_STEPS) return undefined;
  const [least, most] = [Math.min(...shares), Math.max(...shares)];
  const percent = (share: number) => (100 * share).toFixed(0);
  if (most < MUCH_LESS) {
    const between = percent(least) === percent(most) ? percent(least) : `${percent(least)} to ${percent(most)}`;
    return `It draws ${between} % of the known-good’s current at every step: with its supply and its command sound, the module passes too little.`;
  }
  if (least < 1 - ALIKE || most > 1 + ALIKE) return undefined;
  const pressures = sharesOf(beside, 'pressurePa');
  return pressures.length >= FEWEST_STEPS && Math.max(...pressures) < 1 - ALIKE
    ? 'The current is the known-good’s and the pressure isn’t: the pump, or the fuel side.'
    : 'It draws what the known-good draws at every step.';
}

/** What was read, as a share of the known-good's, in each step that both read it in. */
function sharesOf(beside: readonly StepBeside[], what: 'currentA' | 'pressurePa'): number[] {
  return beside.flatMap(({ step, good }) => {
    const [here, theirs] = [step[what], good?.[what]];
    return here !== undefined && theirs !== undefined && theirs > 0 ? [here / theirs] : [];
  });
}
