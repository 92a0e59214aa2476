import type { KeyState } from '../terms/key-states.js';
import { isAnswer, type NumberPart } from '../evidence/part.js';
import { partsOf } from '../evidence/registry.js';
import type { Reading } from '../evidence/reading.js';
import type { Wish } from '../physics/parameters.js';
import { UNHELPED } from '../physics/solve.js';
import { tableOutput } from '../vehicle/command-table.js';
import type { Scored } from './attribution.js';
import { aloneLog, glanceLog, logAnswer, type Foreseen } from './foreseen.js';
import { weighRows, type Row, type WeighedRow } from './laplace.js';
import { momentsOf } from './moments.js';
import type { Prepared } from './prepared.js';
import { helpOf, type Foretold, type Question } from './question.js';
import { HEALTHY, type Severity, type Suspect } from './suspects.js';
import { isCommand } from './table-fold.js';
import { GROSS, trustOf } from './trust.js';
import { nameOf, statedBy, wishSlope, type Asked, type Worlds } from './worlds.js';

/** How the control unit's command is taken. */
export interface View {
  /** A controller's command is as it was seen, and not what holds its pressure: a test by scan tool, a fixed step. */
  readonly asSeen: boolean;
}

export const USUALLY: View = { asSeen: false };

/** How far a reading is believed to show a sound vehicle when the fault was said to be away. */
const AWAY = 0.9;
/** Of moments of a fault that comes and goes, those that find it gone. */
const GONE = 0.3;
/** Share of meters whose ground is bad where it was the body (common practice, no published source). */
const METER_GROUND = 0.12;
/** What a bad meter ground takes of every reading, and its spread. */
const METER_LOSS = 0.5;
const METER_LOSS_SPREAD = 0.25;
const METER_NOISE = 0.035;
/** So much less likely at a glance, as a natural logarithm, a hypothesis isn't weighed at all. */
const HOPELESS = 35;
/** Sizes of a fault within this of the best are worth a closer look. */
const CLOSE = 15;

/** A duty from which on a controller gives all there is. */
const FULL = 0.95;
/** With a charger or jump pack on the battery may stand anywhere that is usual for one. */
const SUPPORTED = 4;

/** A hypothesis as it was weighed, before its prior. */
export type Candidate = Omit<Scored, 'index' | 'weight'>;

/** One weighing of a case's readings under every hypothesis. */
export class Weighing {
  private readonly unknowns: number;
  private readonly trusts: readonly { readonly gross: number; readonly share: number }[];
  private readonly moments: ReturnType<typeof momentsOf>;
  private readonly foreseen: readonly (readonly Foreseen[])[];
  private readonly sound: readonly Foreseen[];
  private readonly stated: readonly WeighedRow[];
  private readonly onBody: boolean;

  constructor(
    readonly prepared: Prepared,
    private readonly readings: readonly Reading[],
    private readonly batterySupported: boolean,
    private readonly view: View,
  ) {
    const { spreads } = prepared.worlds.vehicle;
    // Behind the spreads: the severity's own, and the meter's ground.
    this.unknowns = spreads.length + 2;
    this.trusts = readings.map((reading, i) => trustOf(reading, readings.slice(i + 1)));
    this.moments = momentsOf(readings);
    this.onBody = readings.some(isOnBody);
    this.foreseen = readings.map((reading) => {
      const asked = this.asked(reading);
      const key = `${contentOf(reading)}/${asked.helpName}/${nameOf(asked.wish)}/${batterySupported}`;
      return prepared.remember(key, () => [
        ...prepared.severities.map(({ severity }) => this.foresee(reading, severity, asked)),
        this.foresee(reading, HEALTHY, asked),
      ]);
    });
    this.sound = this.foreseen.map((all) => all[all.length - 1]);
    this.stated = this.statedRows();
  }

  /** Log likelihood of each reading of a sound vehicle, with nothing fitted. */
  soundAlone(): Float64Array {
    return Float64Array.from(this.sound, (one) => one.alone());
  }

  /** The wish of a control unit that steps or is free to choose is taken from what was seen of it. */
  asked(question: Question): Asked {
    const { vehicle } = this.prepared.worlds;
    const [helpName, help] = helpOf(question, vehicle);
    const { commandPercent, keyState } = question;
    const stepped = commandPercent !== undefined && vehicle.moduleAt >= 0;
    const wish = stepped
      ? { duty: Math.min(1, tableOutput(vehicle.profile.commandTable, commandPercent) / 100) }
      : this.wishIn(keyState);
    return { keyState, help, helpName, wish };
  }

  private wishIn(keyState: KeyState): Wish | undefined {
    const { moduleAt, closedLoop, profile } = this.prepared.worlds.vehicle;
    if (moduleAt < 0) return undefined;
    const seen = this.readings.filter(
      (reading) =>
        reading.keyState === keyState &&
        reading.faultPresent &&
        reading.commandPercent === undefined &&
        isCommand(reading),
    );
    const read = seen.filter(({ kind }) => kind === 'scan').at(-1) ?? seen.at(-1);
    if (!read) return undefined;
    const duty = Math.min(1, tableOutput(profile.commandTable, Number(read.value)) / 100);
    const wish: Wish = { duty, ...(read.kind === 'duty' && { atPin: true }) };
    if (!closedLoop || this.view.asSeen) return wish;
    // Some controllers prime at full duty whatever is needed.
    return (keyState === 'prime' || keyState === 'cranking') && duty > FULL ? { duty: 1, holds: true } : undefined;
  }

  private foresee(reading: Reading, severity: Severity, asked: Asked): Foreseen {
    const world = this.prepared.worlds.of(severity, asked);
    const parts = partsOf(reading, this.prepared.scene(severity, asked));
    const numbers = parts.filter((part): part is NumberPart => !isAnswer(part));
    const gross = GROSS[reading.trust ?? 'normal'];
    const answers = parts.reduce((sum, part) => sum + (isAnswer(part) ? logAnswer(part, gross) : 0), 0);
    const glance = answers + numbers.reduce((sum, part) => sum + glanceLog(part, world.base, gross), 0);
    let rows: readonly Row[] | undefined;
    let alone: number | undefined;
    const getRows = () => (rows ??= numbers.map((part) => this.row(part, world, reading)));
    return {
      answers,
      glance,
      rows: getRows,
      alone: () => (alone ??= answers + getRows().reduce((sum, row) => sum + aloneLog(row, gross), 0)),
    };
  }

  /** The battery's own spread is left out where it was read in that key state. */
  foreteller(question: Question, probe: Reading['value']): (severity: Severity) => readonly Foretold[] {
    const asked = this.asked(question);
    const { vehicle } = this.prepared.worlds;
    const battery = vehicle.profile.stations[0].id;
    const batteryRead = this.readings.some(
      ({ kind, at, keyState }) =>
        keyState === question.keyState && (kind === 'battery' || (kind === 'voltage' && at === battery)),
    );
    const reading: Reading = { ...question, id: '', value: probe, faultPresent: true };
    const key = `foretell/${contentOf(reading)}/${asked.helpName}/${nameOf(asked.wish)}/${batteryRead}`;
    const known = this.prepared.remember(key, () => new Map<Severity, readonly Foretold[]>());
    return (severity) => {
      let foretold = known.get(severity);
      if (!foretold) known.set(severity, (foretold = this.foretell(reading, severity, asked, batteryRead)));
      return foretold;
    };
  }

  private foretell(reading: Reading, severity: Severity, asked: Asked, batteryRead: boolean): readonly Foretold[] {
    const { worlds } = this.prepared;
    const world = worlds.of(severity, asked);
    return partsOf(reading, this.prepared.scene(severity, asked)).map((part): Foretold => {
      if (isAnswer(part)) return part;
      const { mean, sd, slope } = this.row(part, world, reading);
      let variance = sd * sd + slope[worlds.vehicle.spreads.length] ** 2;
      worlds.vehicle.spreads.forEach(({ name }, k) => {
        if (!(batteryRead && name.startsWith('battery'))) variance += slope[k] * slope[k];
      });
      return { mean, sd: Math.sqrt(variance) };
    });
  }

  private row(
    { value, of, sd, range }: NumberPart,
    { base, shifted, larger }: ReturnType<Worlds['of']>,
    { keyState, boosted }: Pick<Reading, 'keyState' | 'boosted'>,
  ): Row {
    const slope = new Float64Array(this.unknowns);
    const mean = of(base);
    const { spreads } = this.prepared.worlds.vehicle;
    const moved = shifted();
    const more = larger();
    moved.forEach((snapshot, k) => {
      if (!snapshot) return;
      slope[k] = of(snapshot) - mean;
      if (
        (boosted ?? this.batterySupported) &&
        spreads[k].keyState === keyState &&
        spreads[k].name.startsWith('battery')
      ) {
        slope[k] *= SUPPORTED;
      }
    });
    if (more) slope[moved.length] = of(more) - mean;
    return { value, mean, sd, range, slope };
  }

  /** What the profile's windows say of the sound vehicle: true whatever the fault. */
  private statedRows(): WeighedRow[] {
    const { worlds } = this.prepared;
    return statedBy(worlds.vehicle.profile).map(({ keyState, of, value, sd }) => {
      // What the control unit wishes in that state is what it wishes of a sound vehicle of the kind.
      const wish = this.wishIn(keyState);
      const world = worlds.of(HEALTHY, { keyState, help: UNHELPED, helpName: '', wish });
      const row = this.row({ value, of, sd, range: 10 * value }, world, { keyState });
      const unsure = wish === undefined ? wishSlope(worlds.vehicle, row.slope) : 0;
      worlds.vehicle.spreads.forEach((spread, k) => {
        if (spread.keyState) row.slope[k] = 0;
      });
      return { row: { ...row, sd: Math.hypot(sd, unsure) }, gross: GROSS.normal, share: 1 };
    });
  }

  /** Every hypothesis that isn't hopeless at a glance. */
  all(): Candidate[] {
    const { severities, suspects } = this.prepared;
    const glances = severities.map((_, index) => this.readings.reduce((sum, _r, i) => sum + this.glance(i, index), 0));
    const best = Math.max(...glances);
    const steady = severities.map(({ suspect, severity }, index) =>
      glances[index] < best - HOPELESS
        ? this.hopeless(suspect, severity)
        : this.weigh(
            suspect,
            severity,
            this.readings.map((_, i) => this.at(i, index)),
            false,
          ),
    );
    if (this.moments.count < 2) return steady;
    let from = 0;
    const varying = suspects.flatMap((suspect) => {
      const own = from;
      from += suspect.severities.length;
      return suspect.varies ? this.weighVarying(suspect, own, best) : [];
    });
    return [...steady, ...varying];
  }

  /** At a glance a reading taken while the fault was away may be of a sound vehicle. */
  private glance(reading: number, severity: number): number {
    const own = this.at(reading, severity).glance;
    return this.readings[reading].faultPresent ? own : Math.max(own, this.sound[reading].glance);
  }

  private hopeless(suspect: Suspect, severity: Severity): Candidate {
    const none = new Float64Array(this.readings.length).fill(-HOPELESS);
    return {
      suspect,
      severity,
      comesAndGoes: false,
      log: -Infinity,
      meterGround: 0,
      logs: none,
      alone: none,
      slips: none.map(() => 0),
    };
  }

  /** A fault that comes and goes: each moment finds it in the size that explains it best, or gone. */
  private weighVarying(suspect: Suspect, own: number, best: number): Candidate[] {
    const sizes = suspect.severities;
    const readingsOf = Array.from({ length: this.moments.count }, (_, m) =>
      this.readings.flatMap((_r, i) => (this.moments.of[i] === m ? [i] : [])),
    );
    const shareOf = (moment: number, size: number) => {
      const away = !this.readings[readingsOf[moment][0]].faultPresent;
      const gone = away ? AWAY : GONE;
      return Math.log(size < 0 ? gone : (1 - gone) * sizes[size].share);
    };
    const every = [-1, ...sizes.keys()];
    const foreseenAt = (reading: number, size: number) => this.at(reading, size < 0 ? -1 : own + size);
    const glanceAt = (moment: number, size: number) =>
      readingsOf[moment].reduce((sum, i) => sum + foreseenAt(i, size).glance, shareOf(moment, size));
    const glances = readingsOf.map((_, moment) => every.map((size) => glanceAt(moment, size)));
    const atBest = glances.map((ofMoment) => Math.max(...ofMoment));
    if (atBest.reduce((sum, log) => sum + log, 0) < best - HOPELESS) return [];
    const chosen = readingsOf.map((own, moment) => {
      const scored = every
        .filter((_, n) => glances[moment][n] > atBest[moment] - CLOSE)
        .map((size) => ({
          size,
          log: own.reduce((sum, i) => sum + foreseenAt(i, size).alone(), shareOf(moment, size)),
        }));
      return scored.reduce((a, b) => (b.log > a.log ? b : a)).size;
    });
    const foreseen = this.readings.map((_, i) => foreseenAt(i, chosen[this.moments.of[i]]));
    const largest = sizes[Math.max(0, ...chosen)];
    const weighed = this.weigh(suspect, { fault: largest.fault, share: 1 }, foreseen, true);
    return [{ ...weighed, log: weighed.log + chosen.reduce((sum, size, moment) => sum + shareOf(moment, size), 0) }];
  }

  private at(reading: number, severity: number): Foreseen {
    return severity < 0 ? this.sound[reading] : this.foreseen[reading][severity];
  }

  private weigh(suspect: Suspect, severity: Severity, foreseen: readonly Foreseen[], comesAndGoes: boolean): Candidate {
    const chosen = comesAndGoes ? { foreseen, log: 0 } : this.withAway(foreseen);
    const good = this.rowsOf(chosen.foreseen, false);
    let { log, rows, slips } = weighRows(good, this.unknowns);
    let meterGround = 0;
    if (this.onBody) {
      const bad = weighRows(this.rowsOf(chosen.foreseen, true), this.unknowns);
      const [a, b] = [log + Math.log(1 - METER_GROUND), bad.log + Math.log(METER_GROUND)];
      const most = Math.max(a, b);
      log = most + Math.log(Math.exp(a - most) + Math.exp(b - most));
      meterGround = 1 / (1 + Math.exp(a - b));
      if (b > a) ({ rows, slips } = bad);
    }
    const logs = new Float64Array(this.readings.length);
    const own = new Float64Array(this.readings.length);
    let next = this.stated.length;
    chosen.foreseen.forEach((one, i) => {
      logs[i] = this.trusts[i].share * one.answers;
      for (let r = one.rows().length; r > 0; r--, next++) {
        logs[i] += rows[next];
        own[i] = Math.max(own[i], slips[next]);
      }
    });
    const answered = chosen.foreseen.reduce((sum, { answers }, i) => sum + this.trusts[i].share * answers, 0);
    const alone = Float64Array.from(chosen.foreseen, (one) => one.alone());
    return { suspect, severity, comesAndGoes, log: log + answered + chosen.log, meterGround, logs, alone, slips: own };
  }

  /** Readings of moments at which the fault was said to be away are taken as of a sound vehicle where that explains them better. */
  private withAway(foreseen: readonly Foreseen[]): { foreseen: readonly Foreseen[]; log: number } {
    if (this.readings.every(({ faultPresent }) => faultPresent)) return { foreseen, log: 0 };
    let log = 0;
    const chosen = [...foreseen];
    for (let moment = 0; moment < this.moments.count; moment++) {
      const own = this.readings.flatMap(({ faultPresent }, i) =>
        this.moments.of[i] === moment && !faultPresent ? [i] : [],
      );
      if (own.length === 0) continue;
      const sum = (all: readonly Foreseen[]) => own.reduce((total, i) => total + all[i].alone(), 0);
      const away = Math.log(AWAY) + sum(this.sound);
      const there = Math.log(1 - AWAY) + sum(foreseen);
      log += away >= there ? Math.log(AWAY) : Math.log(1 - AWAY);
      if (away >= there) own.forEach((i) => (chosen[i] = this.sound[i]));
    }
    return { foreseen: chosen, log };
  }

  private rowsOf(foreseen: readonly Foreseen[], meterGround: boolean): WeighedRow[] {
    const rows = [...this.stated];
    foreseen.forEach((one, i) => {
      const { gross, share } = this.trusts[i];
      const lossy = meterGround && isOnBody(this.readings[i]);
      for (const row of one.rows()) rows.push({ row: lossy ? this.lossy(row) : row, gross, share });
    });
    return rows;
  }

  private lossy(row: Row): Row {
    const kept = 1 - METER_LOSS;
    const slope = row.slope.map((s) => s * kept);
    slope[this.unknowns - 1] = -METER_LOSS_SPREAD * row.mean;
    return { ...row, mean: row.mean * kept, slope, sd: Math.hypot(row.sd * kept, METER_NOISE * row.mean) };
  }
}

function isOnBody({ kind, reference }: Reading): boolean {
  return kind === 'voltage' && (reference === 'chassis' || reference === 'local-ground');
}

/** Everything of a reading that its likelihood rests on. */
function contentOf({ kind, at, value, keyState, reference, unloaded, trust, boosted }: Reading): string {
  return JSON.stringify([kind, at, value, keyState, reference, unloaded, trust, boosted]);
}
