import v8 = require('node:v8');
import vm = require('node:vm');
import type { MeasureOutcome, MeasureTask } from '../captures/measure.js';
import type { ReportTask } from '../reports/render-report.js';
import type { WeighTask } from './worker.js';
import type { Diagnosis, Recheck, RecheckQuestion } from '@jarro/core' with { 'resolution-mode': 'import' };

// The pool enters a thread by `require`. Requiring an ES module loads its graph at one go, and a thread that is stopped
// in the midst of that takes the whole process with it (Node 20); an `import()` is simply given up.
const work = () => import('./worker.js');

/**
 * A long record's samples are garbage once it is measured, and stay until the thread wants memory again: hundreds of
 * megabytes while the process stores what was measured. So they are collected at once, which takes milliseconds.
 */
v8.setFlagsFromString('--expose-gc');
const collect = vm.runInNewContext('gc') as () => void;

export = {
  measure: async (task: MeasureTask): Promise<MeasureOutcome> => {
    const outcome = (await work()).measure(task);
    collect();
    return outcome;
  },
  recheck: async (task: RecheckQuestion): Promise<Recheck> => (await work()).recheck(task),
  report: async (task: ReportTask): Promise<Uint8Array> => (await work()).renderReport(task),
  weigh: async (task: WeighTask): Promise<Diagnosis> => (await work()).weigh(task),
};
