import type { HouseRules } from '../rules/house-rules.js';
import type { Station } from '../vehicle/profile.js';
import type { Vehicle } from '../physics/vehicle.js';
import { LEAST_LOAD_A } from '../limits/limits.js';
import { judgeDrop } from './drop.js';

/** What is lost between two stations that were both read. */
export interface LadderStep {
  readonly dropV: number;
  /** Stations in between that share it. */
  readonly contacts: number;
  readonly limitV: number;
  readonly within: boolean;
  /** Absent without a current. */
  readonly resistanceOhm?: number;
  readonly powerW?: number;
}

/** One station of the staircase. */
export interface Rung {
  readonly station: Station;
  readonly side: 'supply' | 'pump' | 'ground';
  /** Volts from battery -, as measured. */
  readonly volts?: number;
  /** As a healthy path would show on the same battery. */
  readonly healthyV: number;
  /** Supply and pump: from the last station read to this one. Ground: from this one on to the next that was read. */
  readonly step?: LadderStep;
  readonly standing: 'unknown' | 'cleared' | 'suspect';
}

/** What was read along a path in one key state; V and A. */
export interface LadderReadings {
  /** Loaded volts from battery -, by station. */
  readonly volts: Readonly<Record<string, number>>;
  /** Volts of a healthy path, by station. */
  readonly healthy: Readonly<Record<string, number>>;
  /** Through the pump; and through its supply, where a module chops it. */
  readonly currentA?: number;
  readonly supplyA?: number;
  /** The module's output follows a duty that is known, so that volts behind it can be judged. */
  readonly dutyKnown: boolean;
}

type Limits = Pick<HouseRules, 'supplyDropV' | 'groundDropV' | 'contactDropV'>;

/** A contact with next to nothing on either side isn't cleared by losing nothing. */
const FED_V = 2;
/** A ground pin near the feed's voltage: nothing flows. */
const HANGING = 0.8;

/**
 * Voltage by voltage from battery + through the pump to battery -. Each contact may lose only so much, so one loaded
 * number clears everything before it, and a step that loses more leaves just what stands in between.
 */
export function voltageLadder(path: Vehicle, readings: LadderReadings, limits: Limits): Rung[] {
  const { stations } = path.profile;
  const { volts, healthy } = readings;
  const steps = new Map<number, LadderStep>();
  const standings = stations.map((): Rung['standing'] => 'unknown');
  const flowing = flows(path, readings);
  climb(path, readings, limits, flowing, steps, standings);
  descend(path, readings, limits, flowing, steps, standings);
  return stations.map((station, i) => {
    const read = volts[station.id];
    const step = steps.get(i);
    return {
      station,
      side: i < path.pumpAt ? 'supply' : i === path.pumpAt ? 'pump' : 'ground',
      ...(read !== undefined && { volts: read }),
      healthyV: healthy[station.id] ?? 0,
      ...(step && { step }),
      standing: standings[i],
    };
  });
}

/** Whether the volts are loaded ones; without a current read they are taken to be, unless the ground hangs. */
function flows({ profile: { stations }, pumpAt }: Vehicle, { volts, currentA }: LadderReadings): boolean {
  if (currentA !== undefined) return currentA >= LEAST_LOAD_A;
  const feed = volts[stations[pumpAt].id] ?? volts[stations[pumpAt - 1].id];
  const pin = volts[stations[pumpAt + 1].id];
  return !(feed !== undefined && pin !== undefined && feed > FED_V && pin > HANGING * feed);
}

/** The supply side, downwards from the battery. */
function climb(
  { profile: { stations, pump }, pumpAt, moduleAt }: Vehicle,
  { volts, healthy, currentA, supplyA = currentA, dutyKnown }: LadderReadings,
  limits: Limits,
  flowing: boolean,
  steps: Map<number, LadderStep>,
  standings: Rung['standing'][],
): void {
  let last: number | undefined;
  for (let i = 0; i <= pumpAt; i++) {
    const here = volts[stations[i].id];
    if (here === undefined) continue;
    if (last === undefined) {
      if (i === 0) standings[0] = 'cleared';
    } else {
      const throughModule = last < moduleAt && moduleAt <= i;
      const before = volts[stations[last].id];
      const healthyDrop = throughModule ? healthy[stations[last].id] - healthy[stations[i].id] : 0;
      const contacts = i - last;
      const limitV = Math.min(contacts * limits.contactDropV, limits.supplyDropV);
      const through = throughModule ? undefined : i < moduleAt ? supplyA : currentA;
      const step = makeStep(before - here, contacts, limitV, through, pump.amperes, healthyDrop);
      steps.set(i, step);
      const judged = !throughModule || dutyKnown;
      const standing = !judged ? 'unknown' : !step.within ? 'suspect' : flowing && here > FED_V ? 'cleared' : 'unknown';
      standings.fill(standing, last + 1, i + 1);
    }
    last = i;
  }
}

/** The ground side, from the pump's pin to battery -. */
function descend(
  { profile: { stations, pump }, pumpAt }: Vehicle,
  { volts, currentA }: LadderReadings,
  limits: Limits,
  flowing: boolean,
  steps: Map<number, LadderStep>,
  standings: Rung['standing'][],
): void {
  let next = stations.length;
  let nextV = 0;
  for (let i = stations.length - 1; i > pumpAt; i--) {
    const here = volts[stations[i].id];
    if (here === undefined) continue;
    const contacts = next - i;
    const limitV = Math.min(contacts * limits.contactDropV, limits.groundDropV);
    const step = makeStep(here - nextV, contacts, limitV, currentA, pump.amperes);
    steps.set(i, step);
    standings.fill(!step.within ? 'suspect' : flowing ? 'cleared' : 'unknown', i, next);
    next = i;
    nextV = here;
  }
}

/** @param expectedV what is lost there by design: a module that chops */
function makeStep(
  dropV: number,
  contacts: number,
  limitV: number,
  currentA: number | undefined,
  ratedA: number,
  expectedV = 0,
): LadderStep {
  const { allowedV, within, ...loaded } = judgeDrop({ dropV: dropV - expectedV, currentA, limitV, ratedA });
  return { dropV, contacts, limitV: allowedV + expectedV, within, ...loaded };
}
