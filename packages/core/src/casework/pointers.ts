import { answered, newestEntry, newestNumber, type Entry } from '../evidence/entry.js';
import { FIRST_CHECKS } from '../evidence/first-checks.js';
import type { Intake } from '../intake/intake.js';
import { COMMON_PRACTICE, LIMITS, type Limit } from '../limits/limits.js';
import type { PressureSheet } from '../pressure/sheet.js';
import type { Family } from '../terms/families.js';

/** What one piece of evidence points to, by a plain rule. */
export interface Pointer {
  readonly text: string;
  readonly towards: readonly Family[];
  readonly away: readonly Family[];
  /** Evidence that it rests on. */
  readonly because: readonly string[];
  readonly rule: string;
  readonly source: string;
}

type Rough = Pick<Pointer, 'text'> & Partial<Pick<Pointer, 'towards' | 'away' | 'because' | 'rule' | 'source'>>;

const pointer = ({
  text,
  towards = [],
  away = [],
  because = [],
  rule = text,
  source = COMMON_PRACTICE,
}: Rough): Pointer => ({
  text,
  towards,
  away,
  because,
  rule,
  source,
});

/**
 * What the evidence of intake, first checks and pressure points to so far, by plain rules; strongest reasons to look
 * elsewhere than the pump come first.
 */
export function pointersFrom(all: readonly Entry[], intake: Intake, sheet: PressureSheet): Pointer[] {
  const entries = answered(all);
  return [
    ...fromIntake(intake),
    ...fromBattery(entries),
    ...fromInjector(entries),
    ...fromChecks(entries),
    ...fromPressure(sheet, intake),
  ].sort((a, b) => weight(b) - weight(a));
}

/** Rules that clear the pump by naming a culprit, then a culprit outside the pump, then any, then what is ruled out. */
function weight({ towards, away }: Pointer): number {
  const namesPump = towards.some((family) => family.startsWith('pump'));
  const clearsPump = away.some((family) => family.startsWith('pump'));
  if (towards.length === 0) return away.length ? 1 : 0;
  return clearsPump ? 4 : namesPump ? 2 : 3;
}

/** A family with less weight than this needs no look any more; one with more than that isn't spoken against. */
const STILL_HELD = 0.02;
const LIKELY = 0.5;

/**
 * The pointers as the weights have them: a rule says what one piece of evidence usually points to, the weights of all of it
 * whether that still holds. What points to nothing any more is left out.
 */
export function heldPointers(
  pointers: readonly Pointer[],
  families: readonly { readonly family: Family; readonly probability: number }[],
): Pointer[] {
  const weights = new Map(families.map(({ family, probability }) => [family, probability]));
  const weightOf = (family: Family) => weights.get(family) ?? 0;
  return pointers
    .map((one) => ({
      ...one,
      towards: one.towards.filter((family) => weightOf(family) >= STILL_HELD),
      away: one.away.filter((family) => weightOf(family) <= LIKELY),
    }))
    .filter(({ towards, away }) => towards.length + away.length > 0);
}

function fromIntake({ tampering, batterySupport, codes }: Intake): Pointer[] {
  const found: Pointer[] = [];
  if (tampering.includes('bypassed-relay')) {
    found.push(
      pointer({
        text: 'A bypassed relay hides relay and command faults: restore it before measuring.',
        towards: ['relay-control', 'relay-contact'],
      }),
    );
  }
  if (tampering.includes('wrong-fuse')) {
    found.push(
      pointer({
        text: 'A wrong fuse was put in because something blew the right one, or it never carried the load: find which.',
        towards: ['fuse', 'feed-wiring'],
      }),
    );
  }
  if (tampering.includes('added-wiring') || tampering.includes('pierced-wires')) {
    found.push(pointer({ text: 'Added or pierced wiring corrodes first: look there.', towards: ['feed-wiring'] }));
  }
  if (batterySupport !== 'none') {
    found.push(
      pointer({
        text: 'A charger or jump pack is on: every voltage reads high. Say so beside each reading, or take it off.',
        towards: ['measurement-error'],
      }),
    );
  }
  if (codes.some((code) => /^P019[0-4]$/.test(code))) {
    found.push(
      pointer({
        text: 'A rail sensor code: do the three-way check before blaming the pump for its pressure.',
        towards: ['sensor'],
      }),
    );
  }
  if (codes.some((code) => /^P0(62[789]|23[0-3]|25[A-D])$/.test(code))) {
    found.push(
      pointer({
        text: 'A pump circuit code: the control unit itself sees the circuit, so measure the path first.',
        towards: ['relay-control', 'feed-wiring', 'module'],
      }),
    );
  }
  if (codes.some((code) => /^P033[56]$/.test(code))) {
    found.push(
      pointer({
        text: 'A crankshaft sensor code: without rotation seen, no control unit runs the pump.',
        towards: ['not-fuel'],
      }),
    );
  }
  if (codes.length >= 4) {
    found.push(
      pointer({
        text: 'Many codes at once often follow a dead battery: charge, clear, read again.',
        towards: ['supply'],
      }),
    );
  }
  return found;
}

function fromBattery(entries: readonly Entry[]): Pointer[] {
  const found: Pointer[] = [];
  const add = (bad: boolean, limit: Limit, because: string, text: string) => {
    if (bad)
      found.push(pointer({ text, towards: ['supply'], because: [because], rule: limit.rule, source: limit.source }));
  };
  const rest = newestNumber(entries, 'battery', 'rest');
  if (rest) {
    const volts = `${rest.value.toFixed(2)} V at rest`;
    add(
      rest.value < LIMITS.restBatteryPoorV.value,
      LIMITS.restBatteryPoorV,
      rest.id,
      `${volts}: charge the battery first, or every other reading misleads.`,
    );
  }
  const cranking = newestNumber(entries, 'battery', 'cranking');
  if (cranking) {
    add(
      cranking.value < LIMITS.crankBatteryLeastV.value,
      LIMITS.crankBatteryLeastV,
      cranking.id,
      `${cranking.value.toFixed(1)} V while cranking: the battery or the starter pulls everything down.`,
    );
  }
  const charging = newestNumber(entries, 'battery', 'charging');
  if (charging) {
    const low = charging.value < LIMITS.chargingLeastV.value;
    add(
      low || charging.value > LIMITS.chargingMostV.value,
      LIMITS.chargingLeastV,
      charging.id,
      `${charging.value.toFixed(2)} V charging is ${low ? 'too low: the pump slows with it' : 'too high: it cooks electronics'}.`,
    );
  }
  return found;
}

/** An injector that is driven opens for milliseconds and kicks well above the battery when it closes. */
const LEAST_ON_TIME_S = 0.5e-3;
const LEAST_KICK_V = 25;

function fromInjector(entries: readonly Entry[]): Pointer[] {
  const onTime = newestNumber(entries, 'timing', 'injector_on_time');
  const kick = newestNumber(entries, 'voltage', 'injector_kick');
  if (!onTime || !kick) return [];
  const alive = onTime.value >= LEAST_ON_TIME_S && kick.value >= LEAST_KICK_V;
  const seen = `${(onTime.value * 1000).toFixed(1)} ms and ${kick.value.toFixed(0)} V of kick`;
  const because = [onTime.id, kick.id];
  return [
    alive
      ? pointer({ text: `Injectors alive: ${seen}.`, away: ['not-fuel'], because })
      : pointer({ text: `Injectors hardly driven: ${seen}.`, towards: ['not-fuel'], because }),
  ];
}

function fromChecks(entries: readonly Entry[]): Pointer[] {
  return FIRST_CHECKS.flatMap((check) => {
    const entry = newestEntry(entries, 'check', check.at);
    const meaning = check.answers.find(({ value }) => value === entry?.value)?.meaning;
    if (!entry || !meaning) return [];
    const found = { ...meaning, because: [entry.id], rule: check.title };
    // What was well while the fault was away clears nothing.
    const away = { away: [], text: `${meaning.text} But the fault was away then.` };
    return [pointer({ ...found, ...(!entry.faultPresent && away) })];
  });
}

function fromPressure(sheet: PressureSheet, { system }: Intake): Pointer[] {
  const found: Pointer[] = [];
  const add = (rough: Rough | undefined | false) => {
    if (rough) found.push(pointer(rough));
  };
  const ids = sheet.lines.filter(({ counts }) => counts).map(({ id }) => id);
  const { standing, text } = sheet.verdict;
  if (standing === 'delivers') add({ text, away: ['pump-electrical', 'pump-mechanical'], because: ids });
  if (standing === 'low') add({ text, towards: ['hydraulic', 'feed-wiring', 'pump-mechanical'], because: ids });
  const regulated = system === 'returnless-electronic';
  if (standing === 'high')
    add({ text, towards: regulated ? ['sensor', 'module-command'] : ['hydraulic'], because: ids });
  const { rise, snap, filter, volume, duty, sensor, regulator, hold, highSide, trims } = sheet;
  add(
    rise &&
      !rise.ok && { text: rise.text, towards: ['hydraulic', 'feed-wiring', 'pump-mechanical'], because: rise.from },
  );
  add(snap && !snap.ok && { text: snap.text, towards: ['hydraulic', 'feed-wiring'], because: snap.from });
  add(filter && !filter.ok && { text: filter.text, towards: ['hydraulic'], because: filter.from });
  add(volume && !volume.ok && { text: volume.text, towards: ['hydraulic', 'pump-mechanical'], because: volume.from });
  if (duty?.ok) add({ text: duty.text, away: ['pump-electrical', 'pump-mechanical', 'module'], because: duty.from });
  else {
    const misled = sensor?.verdict === 'sensor' && sensor.errorPa < 0;
    const towards: Family[] = misled ? ['sensor'] : ['sensor', 'feed-wiring', 'pump-mechanical'];
    add(duty && { text: duty.text, towards, because: duty.from });
  }
  const liar = sensor && sensor.verdict !== 'agree' && sensor.verdict !== 'all-differ';
  add(
    liar && {
      text: sensor.text,
      towards: ['sensor'],
      away: ['pump-electrical', 'pump-mechanical'],
      because: sensor.from,
    },
  );
  add(sensor?.verdict === 'all-differ' && { text: sensor.text, towards: ['measurement-error'], because: sensor.from });
  add(regulator && !regulator.works && { text: regulator.text, towards: ['hydraulic'], because: regulator.from });
  add(
    hold?.judgement.standing === 'falls' && {
      text: hold.side ?? hold.judgement.text,
      towards: ['hydraulic'],
      because: hold.from,
    },
  );
  const fed: Family[] = ['pump-electrical', 'pump-mechanical'];
  if (highSide?.ok) add({ text: highSide.text, away: fed, because: highSide.from });
  else if (highSide) {
    add({
      text: highSide.text,
      towards: ['hydraulic'],
      away: standing === 'delivers' ? fed : [],
      because: highSide.from,
    });
  }
  add(trims && !trims.ok && { text: trims.text, towards: ['hydraulic'], because: trims.from });
  return found;
}
