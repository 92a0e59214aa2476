/** The supply side as a chain of resistances with loads between, from battery + to the pump, and the ground side behind it. */
export interface Chain {
  readonly pumpAt: number;
  /** -1 without a driver module. */
  readonly moduleAt: number;
  /** Other loads behind each station while the key is on, S. */
  readonly loadS: Float64Array;
}

/** A voltage behind a resistance. */
export interface Source {
  readonly openV: number;
  readonly ohm: number;
}

/** A freewheeling diode carries the pump's current while the module's switch is open, V (silicon, textbook). */
export const DIODE_V = 0.7;

/**
 * Everything from the battery to station `end` (exclusive) as one voltage behind one resistance (Thevenin). A module acts on
 * means like a transformer: its switch is closed for a share d of the time and its diode carries the rest, so
 * V2 = d (V1 - I R) - (1 - d) Vd and I1 = d I2.
 * @param freewheels whether current flows that the diode must carry
 */
export function thevenin(
  chain: Chain,
  batteryV: number,
  ohm: Float64Array,
  end: number,
  duty: number,
  freewheels: boolean,
): Source {
  let openV = batteryV;
  let sourceOhm = 0;
  for (let i = 1; i < end; i++) {
    if (i === chain.moduleAt) {
      openV = openV * duty - (freewheels ? (1 - duty) * DIODE_V : 0);
      sourceOhm = sourceOhm * duty * duty + ohm[i] * duty;
    } else sourceOhm += ohm[i];
    const loading = 1 + chain.loadS[i] * sourceOhm;
    openV /= loading;
    sourceOhm /= loading;
  }
  return { openV, ohm: sourceOhm };
}

/** First open station of the supply side; `pumpAt` when there is none. */
export function firstOpen({ pumpAt }: Chain, ohm: Float64Array): number {
  let i = 1;
  while (i < pumpAt && ohm[i] !== Infinity) i++;
  return i;
}

/** Volts and amperes along the path. */
export interface Nodes {
  /**
   * From battery -. Supply stations: at their pump side. Pump: at its feed. Ground side: at their pump side, so that the
   * first of them is the pump's ground pin.
   */
  readonly volts: Float64Array;
  /** Through each station, mean. */
  readonly amperes: Float64Array;
}

/** Walks back from the pump, whose current is known. */
export function walkBack(
  chain: Chain,
  batteryV: number,
  ohm: Float64Array,
  duty: number,
  freewheels: boolean,
  pumpA: number,
  pumpOpen: boolean,
): Nodes {
  const { pumpAt, moduleAt, loadS } = chain;
  const volts = new Float64Array(ohm.length);
  const amperes = new Float64Array(ohm.length).fill(pumpA, pumpAt);
  const reach = firstOpen(chain, ohm);
  const supplied = reach === pumpAt;
  const source = thevenin(chain, batteryV, ohm, reach, duty, freewheels);
  let ampere = supplied ? pumpA : 0;
  let here = source.openV - ampere * source.ohm;
  volts[pumpAt] = supplied ? here : 0;
  for (let i = reach - 1; i > 0; i--) {
    volts[i] = here;
    ampere += loadS[i] * here;
    amperes[i] = ampere;
    if (i !== moduleAt) {
      here += ampere * ohm[i];
    } else if (duty > 0) {
      here = (here + (freewheels ? (1 - duty) * DIODE_V : 0)) / duty + ampere * ohm[i];
      ampere *= duty;
    } else {
      // A module that passes nothing loads nothing.
      const before = thevenin(chain, batteryV, ohm, i, 1, false);
      here = before.openV;
      ampere = 0;
    }
  }
  volts[0] = batteryV;
  groundVolts(chain, ohm, pumpA, pumpOpen, volts);
  return { volts, amperes };
}

/** With an open ground nothing flows, and everything up to the open stands at the feed's voltage through the pump. */
function groundVolts(
  { pumpAt }: Chain,
  ohm: Float64Array,
  pumpA: number,
  pumpOpen: boolean,
  volts: Float64Array,
): void {
  let hanging = -1;
  for (let i = pumpAt + 1; i < ohm.length && hanging < 0; i++) if (ohm[i] === Infinity) hanging = i;
  let rise = 0;
  for (let i = ohm.length - 1; i > pumpAt; i--) {
    rise += pumpA * (ohm[i] === Infinity ? 0 : ohm[i]);
    volts[i] = i <= hanging ? (pumpOpen ? 0 : volts[pumpAt]) : rise;
  }
}

/**
 * The same path with one sound resistance a little larger: what its own current loses there shows at every node behind it.
 * That the pump then draws a hair less is left out: a sound contact is a thousandth of the circuit.
 */
export function withMoreOhm(
  { pumpAt, moduleAt }: Chain,
  { volts, amperes }: Nodes,
  at: number,
  ohm: number,
  duty: number,
): Float64Array {
  const moved = volts.slice();
  const lost = amperes[at] * ohm;
  if (at > pumpAt) {
    for (let i = pumpAt + 1; i <= at; i++) if (amperes[i] > 0) moved[i] += lost;
    return moved;
  }
  for (let i = at; i <= pumpAt; i++) moved[i] -= moduleAt > at && i >= moduleAt ? lost * duty : lost;
  return moved;
}
