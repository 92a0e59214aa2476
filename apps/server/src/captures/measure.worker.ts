import { measure, type MeasureOutcome, type MeasureTask } from './measure.js';

/** Runs in a thread of the pool. */
export default function run(task: MeasureTask): MeasureOutcome {
  return measure(task);
}
