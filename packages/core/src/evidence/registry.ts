import { InputError } from '../errors.js';
import type { KeyState } from '../terms/key-states.js';
import { KEY_STATES } from '../terms/key-states.js';
import type { Stage } from '../terms/stages.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { ENTRY_KINDS, NOT_POSSIBLE, type EntryKind, type EntryValue } from './entry.js';
import type { EvidenceKind, NamedPlace } from './kind.js';
import { actuator } from './kinds/actuator.js';
import { battery } from './kinds/battery.js';
import { bridge } from './kinds/bridge.js';
import { capture } from './kinds/capture.js';
import { check } from './kinds/check.js';
import { code } from './kinds/code.js';
import { current } from './kinds/current.js';
import { directFeed } from './kinds/direct-feed.js';
import { disturb } from './kinds/disturb.js';
import { duty } from './kinds/duty.js';
import { fellFirst } from './kinds/fell-first.js';
import { heard } from './kinds/heard.js';
import { hold } from './kinds/hold.js';
import { injectors } from './kinds/injectors.js';
import { moduleBypass } from './kinds/module-bypass.js';
import { newFuse } from './kinds/new-fuse.js';
import { pattern } from './kinds/pattern.js';
import { pressure } from './kinds/pressure.js';
import { resistance } from './kinds/resistance.js';
import { scan } from './kinds/scan.js';
import { swap } from './kinds/swap.js';
import { soak } from './kinds/soak.js';
import { source } from './kinds/source.js';
import { sweep } from './kinds/sweep.js';
import { testLight } from './kinds/test-light.js';
import { timing } from './kinds/timing.js';
import { visual } from './kinds/visual.js';
import { voltage } from './kinds/voltage.js';
import { volume } from './kinds/volume.js';
import type { Part, Scene } from './part.js';
import type { Reading, ReadingKind } from './reading.js';
import { siteOf } from './site.js';
import { readTyped, type NumberValue, type ValueSchema } from './values.js';

/** Every kind of evidence there is. */
export const EVIDENCE: Readonly<Record<ReadingKind, EvidenceKind>> = {
  voltage,
  'test-light': testLight,
  resistance,
  source,
  current,
  pressure,
  scan,
  duty,
  battery,
  timing,
  hold,
  volume,
  injectors,
  check,
  heard,
  disturb,
  swap,
  bridge,
  'direct-feed': directFeed,
  'module-bypass': moduleBypass,
  visual,
  'new-fuse': newFuse,
  capture,
  pattern,
  actuator,
  'fell-first': fellFirst,
  sweep,
  soak,
  code,
};

/** The comparable parts of a reading; none where the model has nothing to say about it. */
export function partsOf(reading: Reading, scene: Scene): readonly Part[] {
  return reading.value === NOT_POSSIBLE ? [] : EVIDENCE[reading.kind].foresee(reading, scene);
}

/** What is kept of a kind at a place: its title and what it may be. */
export type Measure = NamedPlace & { readonly kind: EntryKind };

/** A number that can be kept beside those at the path's stations. */
export type NumberMeasure = Measure & { readonly value: NumberValue };

/** Every place beside the stations, by kind. */
export const MEASURES: readonly Measure[] = ENTRY_KINDS.flatMap((kind) =>
  (EVIDENCE[kind].places ?? []).map((place) => ({ kind, ...place })),
);

function isNumber(measure: Measure | undefined): measure is NumberMeasure {
  return measure?.value.type === 'number';
}

/** Those of them that are numbers. */
export const NUMBER_MEASURES: readonly NumberMeasure[] = MEASURES.filter(isNumber);

/** A place that can be asked about at all. */
const PLACE = /^[a-z0-9][a-z0-9_-]{0,39}$/i;
const STATION_ID = /^[a-z0-9][a-z0-9-]{0,39}$/;

/** What a kind is at a place: one of its own, one of its shape, or a station of any path. */
export function findMeasure(kind: EntryKind, at: string): Measure | undefined {
  const { places = [], shaped, stations } = EVIDENCE[kind];
  const named = places.find((place) => place.at === at);
  if (named) return { kind, ...named };
  const other = { kind, at, title: at, stage: 'power-path' as Stage, states: KEY_STATES };
  if (shaped?.like.test(at)) return { ...other, value: shaped.value };
  return stations && STATION_ID.test(at)
    ? { ...other, value: stations.value, states: stations.states ?? KEY_STATES }
    : undefined;
}

/** The same where it is a number. */
export function findNumber(kind: EntryKind, at: string): NumberMeasure | undefined {
  const measure = findMeasure(kind, at);
  return isNumber(measure) ? measure : undefined;
}

/** Words that can be pressed in place of a number, or are all there is. */
export function wordsAt(kind: EntryKind, at: string): readonly string[] {
  return findMeasure(kind, at)?.value.words ?? [];
}

/**
 * Checks what somebody wants to keep.
 * @returns the value as it is kept
 * @throws InputError with what is wrong and what to do
 */
export function checkEntry(kind: EntryKind, at: string, value: unknown, keyState: KeyState): EntryValue {
  if (value === NOT_POSSIBLE && PLACE.test(at)) return value;
  const measure = findMeasure(kind, at);
  if (!measure) throw new InputError(`Jarro keeps no ${kind} of "${at}".`);
  const kept = readTyped(measure.value, value, measure.title) as EntryValue;
  // A number of another key state is another number; an answer says by itself what was seen.
  if (measure.value.type === 'number' && !measure.states.includes(keyState)) {
    throw new InputError(
      `${measure.title} is read at ${measure.states.join(' or ')}; state the key position it was read in.`,
    );
  }
  return kept;
}

/** Where a reading was taken and what it may be there, or what is wrong with what was said of it. */
export type Place =
  { readonly at: string; readonly value: ValueSchema } | { readonly field: 'at' | 'kind'; readonly message: string };

/** Finds the place of a reading on a path. @param at absent where there is but one place for the kind */
export function findPlace(kind: ReadingKind, at: unknown, { stations }: SystemProfile): Place {
  const { places = [], shaped, stations: onPath } = EVIDENCE[kind];
  const own = places.find((place) => place.at === at);
  if (own) return { at: own.at, value: own.value };
  if (shaped && typeof at === 'string' && shaped.like.test(at)) return { at, value: shaped.value };
  if (!onPath) {
    if (at === undefined && places.length === 1) return { at: places[0].at, value: places[0].value };
    const said = shaped ? [shaped.says] : places.map((place) => place.at);
    return { field: 'at', message: `Say one of: ${said.join(', ')}.` };
  }
  const { own: meant, value } = onPath;
  if (at === undefined && meant) {
    const station = stations.find((candidate) => meant.includes(candidate.kind));
    return station ? { at: station.id, value } : { field: 'kind', message: `There is no ${meant[0]} in this path.` };
  }
  if (stations.some(({ id }) => id === at)) return { at: at as string, value };
  return { field: 'at', message: `Name a station of this path: ${stations.map(({ id }) => id).join(', ')}.` };
}

/** What can hurt someone at a test, before the cautions of its stage. */
export function cautionsFor(
  question: { readonly kind: ReadingKind; readonly at: string; readonly keyState: KeyState },
  profile: SystemProfile,
): readonly string[] {
  return EVIDENCE[question.kind].cautions?.(siteOf(profile, question)) ?? [];
}
