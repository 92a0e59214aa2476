import type { KeyState } from '../terms/key-states.js';
import type { Scene } from '../evidence/part.js';
import { UNHELPED } from '../physics/solve.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { complaintShare, type Heard } from './complaint.js';
import { HEALTHY, makeSuspects, type Severity, type Suspect } from './suspects.js';
import { Worlds, type Asked } from './worlds.js';

/** What depends on the profile alone, kept for the next reading of the same case. */
export class Prepared {
  readonly worlds: Worlds;
  readonly suspects: readonly Suspect[];
  readonly severities: readonly { readonly suspect: Suspect; readonly severity: Severity }[];
  private readonly memo = new Map<string, unknown>();

  constructor(readonly profile: SystemProfile) {
    this.worlds = new Worlds(profile);
    this.suspects = makeSuspects(profile);
    this.severities = this.suspects.flatMap((suspect) => suspect.severities.map((severity) => ({ suspect, severity })));
  }

  remember<T>(key: string, make: () => T): T {
    const known = this.memo.get(key);
    if (known !== undefined) return known as T;
    if (this.memo.size >= MOST_MEMOS) this.memo.clear();
    const fresh = make();
    this.memo.set(key, fresh);
    return fresh;
  }

  complaint(heard: Heard, severity: Severity): number {
    const state = (keyState: KeyState): Asked => ({ keyState, help: UNHELPED, helpName: '', wish: undefined });
    const shares = this.remember(`complaint/${heard.complaint}`, () => new Map<Severity, number>());
    let share = shares.get(severity);
    if (share === undefined) {
      const cranking = this.worlds.of(severity, state('cranking')).base;
      const loaded = this.worlds.of(severity, state('loaded')).base;
      shares.set(severity, (share = complaintShare(heard, severity.fault, cranking, loaded)));
    }
    return share;
  }

  scene(severity: Pick<Severity, 'fault' | 'larger'>, asked: Asked): Scene {
    return {
      vehicle: this.worlds.vehicle,
      fault: severity.fault,
      now: this.worlds.of(severity, asked).base,
      sound: this.worlds.of(HEALTHY, asked).base,
    };
  }
}

/** Readings and questions of a case that are kept worked out: a quarter of a megabyte each. */
const MOST_MEMOS = 200;
const MOST_PREPARED = 10;
const prepared = new Map<string, Prepared>();

export function prepare(profile: SystemProfile): Prepared {
  const key = JSON.stringify(profile);
  const known = prepared.get(key);
  if (known) return known;
  const fresh = new Prepared(profile);
  for (const oldest of [...prepared.keys()].slice(0, Math.max(0, prepared.size - MOST_PREPARED + 1))) {
    prepared.delete(oldest);
  }
  prepared.set(key, fresh);
  return fresh;
}
