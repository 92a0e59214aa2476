import { say } from '../lib/shell.mjs';

/** The table of a run: each row printed as it comes, those that miss their target remembered. */
export class Table {
  missed = 0;

  /**
   * @param {string} work
   * @param {string} value as it is shown
   * @param {string} [target] in words
   * @param {boolean} [met] absent where nothing is asked
   */
  row(work, value, target = '', met = undefined) {
    if (met === false) this.missed++;
    const mark = met === undefined ? '' : met ? '  met' : '  MISSED';
    say(`${work.padEnd(62)} ${value.padStart(24)}   ${target}${mark}`);
  }

  /** @param {string} work @param {number} tookMs @param {number} mostMs */
  time(work, tookMs, mostMs) {
    this.row(work, `${tookMs.toFixed(tookMs < 100 ? 1 : 0)} ms`, `at most ${mostMs} ms`, tookMs <= mostMs);
  }
}
