import type { KeyState } from '../terms/key-states.js';
import type { Stage } from '../terms/stages.js';
import type { StationKind } from '../vehicle/profile.js';
import type { Part, Scene } from './part.js';
import type { Reading, ReadingValue } from './reading.js';
import type { Site } from './site.js';
import type { ValueSchema } from './values.js';

/**
 * Everything about one kind of evidence, in one place: what it is called, where and when it can be taken, what it may say, what
 * it costs and can hurt, and how it is foreseen. Forms, the server's checks, case files and their JSON Schema, the planner and
 * the model all read it from here.
 */
export interface EvidenceKind {
  /** On the key that offers it. */
  readonly key: string;
  /** Places that aren't stations of the path. */
  readonly places?: readonly NamedPlace[];
  /** At stations of the path. */
  readonly stations?: AtStations;
  /** A place by its shape, where there are too many to list. */
  readonly shaped?: { readonly like: RegExp; readonly says: string; readonly value: ValueSchema };
  /** It tells the same in whichever key state it was done. */
  readonly anyState?: boolean;
  /** It belongs to a place on the path: house orders that follow the path sort it. */
  readonly onPath?: boolean;
  /** What to do, as a technician is told. */
  readonly title: (site: Site) => string;
  /** Minutes it takes, getting there included (common practice, no published source). */
  readonly minutes: (site: Site) => number;
  /** What can hurt someone there. */
  readonly cautions?: (site: Site) => readonly string[];
  /** The stage whose cautions must have been acknowledged before it is kept; undefined where it hurts nobody. */
  readonly danger: (at: string) => Stage | undefined;
  /** Comparable parts of a reading, and what the model foresees of each. */
  readonly foresee: (reading: Reading, scene: Scene) => readonly Part[];
  /** Any value it may have: what is foreseen doesn't depend on which, only on which parts there are. */
  readonly probe: ReadingValue;
  /** As a case file on a path with a driver module says it. */
  readonly example: Readonly<Record<string, unknown>>;
}

/** A place beside the path, and what is read there. */
export interface NamedPlace {
  readonly at: string;
  readonly title: string;
  readonly stage: Stage;
  readonly value: ValueSchema;
  /** States in which it can be read; the first is the usual one. */
  readonly states: readonly KeyState[];
  readonly howTo?: string;
}

export interface AtStations {
  readonly value: ValueSchema;
  /** Kinds of station that offer it; all of them when absent. */
  readonly at?: readonly StationKind[];
  /** Meant when a file names no place: the first station of these kinds. */
  readonly own?: readonly StationKind[];
  /** States in which it can be taken; the first is the usual one. All of them when absent. */
  readonly states?: readonly KeyState[];
}
