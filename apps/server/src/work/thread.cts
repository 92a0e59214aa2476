import type { MeasureOutcome, MeasureTask } from '../captures/measure.js';
import type { ReportTask } from '../reports/render-report.js';
import type { WeighTask } from './worker.js';
import type { Diagnosis, Recheck, RecheckQuestion } from '@jarro/core' with { 'resolution-mode': 'import' };

// The pool enters a thread by `require`. Requiring an ES module loads its graph at one go, and a thread that is stopped
// in the midst of that takes the whole process with it (Node 20); an `import()` is simply given up.
const work = () => import('./worker.js');

export = {
  measure: async (task: MeasureTask): Promise<MeasureOutcome> => (await work()).measure(task),
  recheck: async (task: RecheckQuestion): Promise<Recheck> => (await work()).recheck(task),
  report: async (task: ReportTask): Promise<Uint8Array> => (await work()).renderReport(task),
  weigh: async (task: WeighTask): Promise<Diagnosis> => (await work()).weigh(task),
};
