import { LEAST_LOAD_A } from '../limits/limits.js';

/** What is lost between two points of a path under load, and by what it is judged. */
export interface Drop {
  readonly dropV: number;
  /** Through it while it was read, A; absent when nobody read it. */
  readonly currentA?: number | undefined;
  /** What may be lost at the pump's rated draw, V. */
  readonly limitV: number;
  readonly ratedA: number;
  /** What a sound path has there, ohm, where its profile states all of it. */
  readonly statedOhm?: number | undefined;
}

export interface DropJudgement {
  readonly within: boolean;
  /** What may be lost at the current that flowed, V. */
  readonly allowedV: number;
  /** Absent without a current that loads anything. */
  readonly resistanceOhm?: number;
  readonly powerW?: number;
}

/** Sound contacts of one path differ by about so much from what is stated for the kind (common practice, no published source). */
const STATED_TIMES = 1.25;
/** The meter's last digits, not a fault. */
const DIGITS_V = 0.02;
/** Of the rated draw: what pumps ordinarily draw, and limits are meant at. */
const ORDINARY = { least: 0.6, most: 1.2 } as const;

/**
 * The one judge of a drop. A limit in volts is meant at a pump's ordinary draw: it stands for a resistance. So a dragging pump
 * that draws twice as much may lose twice as much, and one that hardly draws can't hide a bad joint behind a small drop; and a
 * path whose own sound resistance is stated isn't condemned for having it. Without a current the volts are taken as they are.
 */
export function judgeDrop({ dropV, currentA, limitV, ratedA, statedOhm = 0 }: Drop): DropJudgement {
  const loaded = currentA !== undefined && currentA >= LEAST_LOAD_A;
  const allowedV = loaded ? Math.max(limitV * scaleOf(currentA / ratedA), STATED_TIMES * statedOhm * currentA) : limitV;
  return {
    within: dropV <= allowedV + DIGITS_V,
    allowedV,
    ...(loaded && { resistanceOhm: dropV / currentA, powerW: dropV * currentA }),
  };
}

function scaleOf(share: number): number {
  if (share > ORDINARY.most) return share;
  return Math.min(1, share / ORDINARY.least);
}
