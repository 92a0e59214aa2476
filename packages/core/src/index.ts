export * from './errors.js';
export * from './units/units.js';
export * from './capture/capture.js';
export * from './capture/roles.js';
export * from './limits/limits.js';
export * from './formats/formats.js';
export { CsvReader, readCsv, type CsvOptions } from './formats/csv-reader.js';
export { csvBlocks } from './formats/csv-writer.js';
export { readWav, writeWav } from './formats/wav.js';
export { levels, median, quantile, robustDeviation, type Levels } from './signal/levels.js';
export * from './signal/pyramid.js';
export { welchSpectrum, findLines } from './signal/spectrum.js';
export * from './ramp/types.js';
export type { Dropout } from './ramp/dropouts.js';
export type { Bar, BarState } from './ramp/rotor-map.js';
export { barsForHumps, humpsForBars, type Basis } from './ramp/revolution.js';
export { analyzeRamp } from './ramp/analyze-ramp.js';
export * from './analyze.js';
export * from './model/capture-spec.js';
export * from './path/drop-ledger.js';
export * from './path/ladder.js';
export * from './evidence/bench-answers.js';
export * from './evidence/entry.js';
export * from './evidence/first-checks.js';
export * from './evidence/catalogue.js';
export * from './stages/stages.js';
export * from './stages/guarded.js';
export * from './systems/system-kinds.js';
export * from './intake/intake.js';
export * from './intake/codes.js';
export * from './pressure/hold.js';
export * from './pressure/regulator.js';
export * from './pressure/rail-sensor.js';
export * from './pressure/scan-scaling.js';
export * from './pressure/sheet.js';
export type { Judged } from './pressure/delivery.js';
export * from './pressure/capture-entries.js';
export * from './diagnosis/families.js';
export * from './diagnosis/pointers.js';
export * from './pressure/analyze-pressure.js';
export * from './path/wire.js';
export * from './rules/house-rules.js';
export * from './sums/sums.js';
export * from './path/fuse.js';
export * from './path/pump-model.js';
export * from './path/solve-path.js';
export * from './systems/profile.js';
export type { CaseSystem } from './systems/case-system.js';
export * from './systems/check-profile.js';
export { readProfile, type ReadProfile } from './systems/read-profile.js';
export * from './systems/templates.js';
export * from './systems/edit-profile.js';
export * from './diagnosis/reading.js';
export { cautionsFor } from './diagnosis/test-cautions.js';
export {
  diagnose,
  type Diagnosis,
  type DiagnoseOptions,
  type NextTest,
  type SuspectWeight,
} from './diagnosis/diagnose.js';
export { VERDICTS, type GateResult, type Verdict } from './diagnosis/gates.js';
export type { Contradiction } from './diagnosis/contradictions.js';
export { caseProfile, caseReadings, recordOf, type CaseCapture, type CaseEvidence } from './diagnosis/from-case.js';
export { caseBench, weighCase, type CaseBench } from './diagnosis/case-bench.js';
export type { CaseLadder } from './diagnosis/case-ladder.js';
export { findPlace } from './diagnosis/places.js';
export { writeCase, type WrittenCase } from './diagnosis/write-case.js';
export { checkCase, type CaseFile, type CheckedCase } from './diagnosis/case-file.js';
