import { isLikelierRotor } from './commutators.js';
import { FOLLOWED_BAND } from './revolution.js';
import type { MeasuredRun } from './measure-runs.js';
import type { Turning } from './turning.js';
import { rpmFromPeriod } from '../../units/units.js';

/** Two stretches of one pump at one draw turn alike; lines that part by more are none of a rotor's. */
const SAME_DRAW = 0.05;
const SAME_SPEED = 0.1;

/**
 * Leaves the speed out of runs whose humps are as faint as an alternator's, where something else than the rotor is the likelier
 * cause: the speed is one that hardly any pump turns at, or two runs at the same draw would turn at two speeds. The line stays
 * followed, since whatever made it is no noise of the current's level.
 */
export function withoutDoubtful(runs: readonly MeasuredRun[]): MeasuredRun[] {
  const faint = runs.filter(isFaint);
  return runs.map((run) => {
    if (!isFaint(run)) return run;
    const unusual = !isLikelierRotor(speedOf(run), FOLLOWED_BAND);
    if (!unusual && !faint.some((other) => contradicts(run, other))) return run;
    return { ...run, speedUntold: true, cannotTell: [...run.cannotTell.filter(isOfOther), because(run, unusual)] };
  });
}

/** What was followed of a run's rotor, where it is the rotor's. */
export function toldTurning({ turning, speedUntold }: MeasuredRun): Turning | undefined {
  return speedUntold ? undefined : turning;
}

type FaintRun = MeasuredRun & Required<Pick<MeasuredRun, 'turning'>>;

function isFaint(run: MeasuredRun): run is FaintRun {
  return run.turning !== undefined && run.turning.revolution.isFaint && run.turning.revolution.basis === 'assumed';
}

function contradicts(a: FaintRun, b: FaintRun): boolean {
  if (!a.steady || !b.steady) return false;
  const apart = (one: number, other: number) => Math.abs(one / other - 1);
  return apart(a.steady.meanA, b.steady.meanA) < SAME_DRAW && apart(speedOf(a), speedOf(b)) > SAME_SPEED;
}

function speedOf({ turning: { revolution, line } }: FaintRun): number {
  return rpmFromPeriod(revolution.linePerRevolution / line.hz);
}

const isOfOther = ({ what }: MeasuredRun['cannotTell'][number]) => what !== 'humps.perRevolution';

function because(run: FaintRun, unusual: boolean): MeasuredRun['cannotTell'][number] {
  const hz = run.turning.line.hz.toFixed(0);
  const why = unusual ? 'would make a speed that hardly any pump turns at' : 'makes another speed in each stretch';
  return {
    what: 'rpm',
    because: `the only humps are as faint as an alternator’s, and their line at ${hz} Hz ${why}; use a smaller clamp range and a faster time base, or give the bar count`,
  };
}
