import type { RampResult } from '../ramp/types.js';
import type { DropLedger } from './drop-ledger.js';

/** One proof that a verdict of "replace pump" needs. */
export interface Proof {
  readonly id: 'doubt' | 'supply-loaded' | 'ground-loaded' | 'battery' | 'current-captured' | 'pump-fault-shown';
  readonly met: boolean;
  /** What is proven, or what to do to prove it. */
  readonly text: string;
}

export interface PumpGate {
  readonly allowed: boolean;
  readonly proofs: readonly Proof[];
}

export interface GateEvidence {
  readonly ledger: DropLedger;
  readonly batteryV?: number;
  /** Current that flowed through feed and ground while they were read, A: the pump's own or a test load's. */
  readonly loadA?: number;
  /** The captures of the pump current that stand, newest last. */
  readonly ramps: readonly RampResult[];
}

/** Below this a battery can't prove a supply either way (common practice, no published source). */
const LEAST_BATTERY_V = 11.8;

/** Less current than this loads nothing: 12 V with no current passes through a hair (common practice, no published source). */
const LEAST_LOAD_A = 0.5;

/**
 * Decides whether the evidence allows condemning the pump: the supply and the ground are proven under load, current was
 * seen, and the pump itself shows a fault that no supply can make. Ripple alone never condemns.
 */
export function pumpGate({ ledger, batteryV, loadA, ramps }: GateEvidence): PumpGate {
  const supply = ledger.lines.find((line) => line.side === 'supply');
  const ground = ledger.lines.find((line) => line.side === 'ground');
  const ramp = ramps.at(-1);
  const loaded = loadA !== undefined && loadA >= LEAST_LOAD_A;
  const fault = ramp && pumpFault(ramp, loaded && supply?.within === true && ground?.within === true);
  const proofs: Proof[] = [
    sideProof('supply-loaded', 'Supply', 'battery + to pump feed', supply, loaded),
    sideProof('ground-loaded', 'Ground', 'pump ground to battery -', ground, loaded),
    {
      id: 'battery',
      met: batteryV !== undefined && batteryV >= LEAST_BATTERY_V,
      text:
        batteryV === undefined
          ? 'Read the battery while the pump runs: everything else is measured against it.'
          : batteryV >= LEAST_BATTERY_V
            ? `Battery held ${batteryV.toFixed(2)} V under load.`
            : `Battery at ${batteryV.toFixed(2)} V confuses every other reading: charge it and repeat.`,
    },
    {
      id: 'current-captured',
      met: ramp !== undefined,
      text: ramp ? 'Pump current captured.' : 'Capture the pump current: start it before key-on and let it run 2 s.',
    },
    {
      id: 'pump-fault-shown',
      met: fault !== undefined,
      text: fault ?? 'The current shows no fault of the pump itself. A good pump on a bad feed looks weak too.',
    },
  ];
  // A doubted reading proves nothing until it is repeated.
  const doubted = ledger.doubts.map((text): Proof => ({ id: 'doubt', met: false, text }));
  const all = [...doubted, ...proofs];
  return { allowed: all.every((proof) => proof.met), proofs: all };
}

function sideProof(
  id: Proof['id'],
  name: string,
  span: string,
  line: DropLedger['lines'][number] | undefined,
  loaded: boolean,
): Proof {
  if (!line)
    return { id, met: false, text: `Read ${span} with the pump running: ${name.toLowerCase()} is not proven.` };
  const drop = `${line.dropV.toFixed(2)} V of ${line.limitV.toFixed(2)} V allowed`;
  if (line.within && !loaded) {
    const text = `${name} reads ${drop}, but with no current that proves nothing. Put a lamp of a few amperes across the pump connector, read again, and enter its current.`;
    return { id, met: false, text };
  }
  return line.within
    ? { id, met: true, text: `${name} proven: ${drop}.` }
    : { id, met: false, text: `${name} loses ${drop}. Find that first; the pump is not the suspect.` };
}

/** What in the current can only be the pump; undefined if nothing is. */
function pumpFault(ramp: RampResult, supplyProven: boolean): string | undefined {
  const bad = ramp.bars?.filter((bar) => bar.state !== 'sound').length ?? 0;
  if (bad > 0)
    return `${bad === 1 ? 'One commutator bar drops' : `${bad} commutator bars drop`} current on every turn.`;
  if (ramp.pattern === 'no-current' && supplyProven) {
    return 'Feed and ground are proven, yet no current flows: the pump is open inside.';
  }
  if (ramp.pattern === 'dead-stretch' && supplyProven) return 'The brushes leave the bars while feed and ground hold.';
  return undefined;
}
