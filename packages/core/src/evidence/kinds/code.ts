import { TROUBLE_CODE } from '../../intake/codes.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** A trouble code that the scan tool read. Codes are hints: many follow from a dead battery or an earlier repair. */
export const code: EvidenceKind = {
  key: 'Code',
  shaped: { like: TROUBLE_CODE, says: 'a trouble code, as P0231', value: wordsOf('stored', 'pending', 'history') },
  anyState: true,
  title: ({ at }) => `Code ${at} by scan tool`,
  minutes: () => 3,
  danger: () => undefined,
  foresee: ({ at, value }, scene) => (value === 'history' ? [] : told('stored', codeShares(at, scene))),
  probe: 'stored',
  example: { at: 'P0231', value: 'stored', state: 'off' },
};

/** How often a code is stored that nothing here explains, and one that something does (common practice, no published source). */
const STRAY = 0.03;
const EXPLAINED = 0.3;
/** A weak battery leaves codes of every kind; and a code of something else is of something else, now and then. */
const WEAK_BATTERY = 0.05;
const ELSEWHERE = 0.12;

type Explains = (scene: Scene) => boolean;

const relayControl: Explains = ({ fault }) => fault.relayOff !== undefined;
/** The feed that a control unit watches behind the relay. */
const feedLost: Explains = ({ fault, now, vehicle }) =>
  fault.relayOff !== undefined ||
  fault.shortBehind !== undefined ||
  (now.powered && now.volts[Math.max(vehicle.relayAt, 0)] < 0.6 * now.batteryV);
const ofModule: Explains = ({ fault }) => fault.module !== undefined || fault.command !== undefined;
const sensor: Explains = ({ fault }) => fault.sensorGain !== undefined;
const low: Explains = ({ now }) => now.railPa < 0.85 * now.desiredPa;
const high: Explains = ({ now }) => now.railPa > 1.12 * now.desiredPa;
const lean: Explains = (scene) => low(scene) || scene.fault.lacks === 'air';
const rich: Explains = (scene) =>
  high(scene) || (scene.fault.sensorGain ?? 1) < 1 || scene.fault.leaksDown !== undefined;
const rotation: Explains = ({ fault }) => fault.lacks === 'injection';
const immobiliser: Explains = ({ fault }) => fault.lacks === 'immobiliser';
const lowVolts: Explains = ({ fault }) => fault.battery !== undefined;

/** Which faults leave which codes, by the beginning of the code (SAE J2012 / ISO 15031-6 names, from memory). */
const EXPLAINS: readonly (readonly [RegExp, Explains])[] = [
  [/^P0087|^P2635|^P0148/, low],
  [/^P0088/, high],
  [/^P0089|^P009[0-2]/, (scene) => low(scene) || high(scene)],
  [/^P017[14]/, lean],
  [/^P017[25]/, rich],
  [/^P018[BCD]|^P019[0-4]/, sensor],
  [/^P0230|^P062[789]|^P068[567]/, relayControl],
  [/^P023[123]/, feedLost],
  [/^P025[ABCD]|^U0109/, ofModule],
  [/^P033[56]|^P0340|^U0100/, rotation],
  [/^P0513/, immobiliser],
  [/^P056[023]/, lowVolts],
];

function codeShares(at: string, scene: Scene): Answers {
  const explains = EXPLAINS.find(([like]) => like.test(at))?.[1];
  const { battery, lacks } = scene.fault;
  const stray = battery ? WEAK_BATTERY : explains === undefined && lacks !== undefined ? ELSEWHERE : STRAY;
  return answers({ stored: explains?.(scene) ? EXPLAINED : stray }, 'absent');
}
