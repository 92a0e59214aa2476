/** Where a number comes from. */
export const COMMON_PRACTICE = 'common practice, no published source';

/** One rule of judgement: its value in SI, what it says, and where it comes from. */
export interface Limit {
  readonly value: number;
  readonly rule: string;
  readonly source: string;
}

const practice = (value: number, rule: string): Limit => ({ value, rule, source: COMMON_PRACTICE });

/**
 * What a number of this trade can be at all; beyond lies a slipped decimal point or a wrong probe factor. A 24 V system
 * charges at 29 V; no pump circuit is fused above 40 A (common practice, no published source).
 */
export const LARGEST_VOLTAGE_V = 30;
export const LARGEST_CURRENT_A = 60;
/** Twice what the fastest pumps turn at, 1/min. */
export const LARGEST_SPEED_RPM = 20_000;

/** Standard atmosphere, Pa: a gauge can't read lower than a perfect vacuum. */
export const ATMOSPHERE_PA = 101_325;
/** The hand gauge's side of the system; above it begins the direct-injection high side. */
export const LOW_SIDE_MOST_PA = 1.2e6;

/** A scan tool's pressure that no pump in a tank makes: it is of the high side of direct injection. */
export function isHighSide(pascal: number): boolean {
  return pascal > LOW_SIDE_MOST_PA;
}

/** Less loads nothing: 12 V with no current passes through a hair (common practice, no published source). */
export const LEAST_LOAD_A = 0.5;

/** Whether a meter on a vehicle’s 12 V side can show this, V. */
export function canBeVolts(value: number): boolean {
  return Math.abs(value) <= LARGEST_VOLTAGE_V;
}

/** Whether a fuel pump’s circuit can carry this, A. */
export function canBeAmperes(value: number): boolean {
  return Math.abs(value) <= LARGEST_CURRENT_A;
}

/** Every limit that a judgement rests on. A shop's own limits replace `value`, never the code. */
export const LIMITS = {
  slowestRpm: practice(3400, 'Pumps turn 3 400 to 10 000 rpm'),
  fastestRpm: practice(10_000, 'Pumps turn 3 400 to 10 000 rpm'),
  usualBars: practice(8, 'Most passenger-car pumps have eight commutator bars'),
  ripplePercent: practice(
    15,
    'Highest to lowest point within 15 % of the draw; more is kept in mind, never condemned on alone',
  ),
  inrushLeast: practice(2, 'The first peak is two to four times the running draw'),
  inrushMost: practice(4, 'The first peak is two to four times the running draw'),
  interruptionS: practice(
    1,
    'The key rests off ten seconds before the pump primes again: a gap of less than a second is an interruption',
  ),
  leastWorkingA: practice(2, 'About 2 A or less on a port-injection pump is not doing the work'),
  plausibleLeastA: practice(0.8, 'A running pump draws about 1 to 20 A; ten times off is a wrong clamp scale'),
  plausibleMostA: practice(25, 'A running pump draws about 1 to 20 A; ten times off is a wrong clamp scale'),
  samplesPerHump: practice(10, 'At least ten samples a hump, or the shape of the humps is lost'),
  supplyDropV: practice(0.5, 'Loaded drop from battery + to the pump feed within 0.5 V'),
  contactDropV: practice(0.1, 'Loaded drop across one contact within 0.1 V'),
  groundDropV: practice(0.2, 'Loaded rise from battery - to the pump ground within 0.2 V'),
  restBatteryLeastV: practice(12.4, 'A rested battery shows 12.4 to 12.7 V'),
  restBatteryPoorV: practice(
    12.2,
    'Below about 12.2 V at rest a battery is half empty and confuses every other reading',
  ),
  crankBatteryLeastV: practice(9.6, 'About 10 V while cranking is normal; below 9.6 V the battery fails'),
  chargingLeastV: practice(13.2, 'A charging system holds 13.2 to 15 V'),
  chargingMostV: practice(15, 'A charging system holds 13.2 to 15 V'),
  riseTimeS: practice(2, 'Prime pressure within the prime time, about 2 s'),
  snapSag: practice(0.1, 'Pressure must not sag on snap throttle; a tenth is the needle’s own movement'),
  filterDropPa: practice(35e3, 'Loss across a sound filter stays below about 35 kPa (5 psi)'),
  holdLossPaPerMin: practice(7e3, 'Loses no more than about 35 kPa (5 psi) in the first five minutes after shut-down'),
  regulatorRise: practice(1, 'Vacuum hose off: rail pressure rises by the manifold vacuum'),
  easyDutyPercent: practice(50, 'A pump that holds its target at half duty or less is a good pump'),
  strugglingDutyPercent: practice(65, 'A pump that needs 60 to 70 % duty or more at idle is struggling'),
  trimPercent: practice(10, 'Trims within 10 % either way are ordinary'),
  learnedTrimPercent: practice(25, 'A long-term trim stuck beyond 25 % after a fix wants a reset'),
  targetShare: practice(0.08, 'Actual within 8 % of the pressure asked for counts as held'),
  volumeLph: practice(60, 'About 1 litre a minute at the engine is enough for most port-injection engines'),
} as const satisfies Record<string, Limit>;

/** How much a finding weighs: good to know, to be kept in mind, or to be acted on first. */
export type Severity = 'info' | 'keep-in-mind' | 'act';

/** A judgement in plain words, with the rule and the stretch of samples it rests on. */
export interface Finding {
  readonly code: string;
  readonly severity: Severity;
  readonly text: string;
  readonly rule: string;
  readonly source: string;
  /** Seconds from, to. */
  readonly window?: readonly [number, number];
}

/**
 * A finding, with the rule it follows and where that comes from.
 *
 * @param code a stable name for it
 * @param window the part of the record that shows it, s
 */
export function finding(
  code: string,
  severity: Severity,
  text: string,
  limit: Pick<Limit, 'rule' | 'source'>,
  window?: readonly [number, number],
): Finding {
  return { code, severity, text, rule: limit.rule, source: limit.source, ...(window && { window }) };
}
