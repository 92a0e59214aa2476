import type { PathModel } from '../path/solve-path.js';
import type { Reading } from './reading.js';
import type { Fault } from './suspects.js';
import type { World } from './world.js';

/** A hypothesis as it would show in the key state that is asked about. */
export interface Situation {
  readonly path: PathModel;
  readonly fault: Fault;
  readonly world: World;
  /** As foretold without what was measured of the module's duty. */
  readonly free: World;
  /** The same state with nothing wrong, and as it would be with nothing measured of the module's duty. */
  readonly sound: World;
  readonly usual: World;
  /** The module's output duty in that state was measured. */
  readonly dutyKnown: boolean;
  /** Duty that its command was measured to ask for, per cent. */
  readonly asked: number | undefined;
}

/** What is asked: everything of a reading but its value. */
export type Question = Pick<Reading, 'kind' | 'at' | 'keyState' | 'reference' | 'unloaded'>;
