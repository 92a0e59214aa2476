import type { Random } from '../signal/random.js';

/** What the brushes meet as the commutator turns. */
export interface CommutatorSpec {
  readonly bars: number;
  /** Peak-to-peak change of winding resistance within a hump, as a share of it. */
  readonly humpDepth: number;
  /** Standard deviation of the bars' own differences, as a share of winding resistance. */
  readonly barSpread: number;
  readonly burnt: readonly { readonly bar: number; readonly extraOhm: number }[];
  /** Mean number of brush bounces a second, and what each adds. */
  readonly bouncesPerS: number;
  readonly bounceOhm: number;
}

export interface Commutator {
  readonly humpsPerRevolution: number;
  /** Resistance added to the winding at a rotor angle in revolutions, for a winding of `windingOhm`. */
  resistanceAt(revolutions: number, windingOhm: number): number;
}

/**
 * Two brushes: an even number of bars is met by both at once, an odd number by each in turn, so that odd counts
 * give two humps a bar. Each hump rises from the troughs where the brush bridges two bars.
 */
export function makeCommutator(spec: CommutatorSpec, random: Random): Commutator {
  const odd = spec.bars % 2 === 1;
  const humps = odd ? 2 * spec.bars : spec.bars;
  const offset = new Float64Array(humps);
  const extra = new Float64Array(humps);
  for (let hump = 0; hump < humps; hump++) offset[hump] = spec.barSpread * random.normal();
  for (const { bar, extraOhm } of spec.burnt) extra[odd ? (2 * bar) % humps : bar % humps] = extraOhm;
  return {
    humpsPerRevolution: humps,
    resistanceAt(revolutions, windingOhm) {
      const position = (revolutions - Math.floor(revolutions)) * humps;
      const hump = Math.min(humps - 1, Math.floor(position));
      const arch = Math.sin(Math.PI * (position - hump));
      return windingOhm * (offset[hump] * arch - spec.humpDepth * (arch - 2 / Math.PI)) + extra[hump] * arch;
    },
  };
}
