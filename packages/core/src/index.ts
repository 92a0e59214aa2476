export * from './errors.js';
export * from './units/units.js';
export * from './units/display.js';
export * from './capture/capture.js';
export * from './capture/roles.js';
export * from './capture/source.js';
export * from './capture/signal-record.js';
export * from './capture/scales.js';
export * from './capture/math-channel.js';
export type { MeasuredValue, RecordEvent } from './measure/analyser.js';
export * from './limits/limits.js';
export * from './formats/formats.js';
export type { ByteSource } from './formats/byte-source.js';
export { CsvReader, type CsvOptions } from './formats/csv-reader.js';
export { csvBlocks } from './formats/csv-writer.js';
export { jsonBlocks } from './formats/json-capture.js';
export { writeMat } from './formats/mat-writer.js';
export { readWav, writeWav } from './formats/wav.js';
export { levels, median, quantile, robustDeviation, type Levels } from './signal/levels.js';
export * from './signal/pyramid.js';
export { welchSpectrum, findLines } from './signal/spectrum.js';
export * from './measure/current/types.js';
export type { Dropout } from './measure/current/dropouts.js';
export type { Bar, BarState } from './measure/current/rotor-map.js';
export { barsForHumps, humpsForBars } from './measure/current/commutators.js';
export type { Alternative, Basis } from './measure/current/revolution.js';
export { analyzeRamp, type ClampSignal } from './measure/current/analyze-ramp.js';
export * from './analyze.js';
export * from './simulate/capture-spec.js';
export * from './verdict/drop-ledger.js';
export * from './verdict/ladder.js';
export * from './evidence/how-taken.js';
export * from './evidence/records.js';
export * from './terms/key-states.js';
export * from './terms/references.js';
export * from './terms/stages.js';
export * from './terms/words.js';
export * from './measure/pressure/hold-record.js';
export * from './evidence/entry.js';
export * from './evidence/first-checks.js';
export * from './evidence/describe.js';
export {
  checkEntry,
  cautionsFor,
  EVIDENCE,
  findMeasure,
  findPlace,
  findNumber,
  MEASURES,
  NUMBER_MEASURES,
  wordsAt,
  type Measure,
  type NumberMeasure,
} from './evidence/registry.js';
export type { EvidenceKind, NamedPlace } from './evidence/kind.js';
export { schemaOf, type MeasureUnit, type NumberValue, type ValueSchema } from './evidence/values.js';
export { caseSchema, valuesOf } from './casework/case-schema.js';
export * from './terms/stage-guides.js';
export * from './casework/guarded.js';
export * from './vehicle/system-kinds.js';
export * from './intake/intake.js';
export * from './intake/codes.js';
export * from './measure/pressure/hold.js';
export * from './pressure/regulator.js';
export * from './vehicle/rail-sensor.js';
export * from './pressure/scan-scaling.js';
export { countedEntries } from './pressure/bleeding.js';
export * from './pressure/sheet.js';
export type { Judged } from './pressure/delivery.js';
export * from './pressure/capture-entries.js';
export * from './terms/families.js';
export * from './casework/pointers.js';
export * from './measure/pressure/analyze-pressure.js';
export * from './physics/wire.js';
export * from './rules/house-rules.js';
export * from './sums/sums.js';
export * from './sums/fuse.js';
export * from './physics/fault.js';
export * from './physics/parameters.js';
export * from './physics/solve.js';
export { makeVehicle, soundOhm, usualParameters, type Vehicle as VehicleModel } from './physics/vehicle.js';
export * from './vehicle/profile.js';
export type { CaseSystem } from './intake/case-system.js';
export * from './vehicle/check-profile.js';
export { readProfile, type ReadProfile } from './vehicle/read-profile.js';
export * from './vehicle/templates.js';
export * from './vehicle/edit-profile.js';
export * from './evidence/reading.js';
export {
  diagnose,
  type Diagnosis,
  type DiagnoseOptions,
  type NextTest,
  type SuspectWeight,
} from './casework/diagnose.js';
export { shopWeights, type FoundCounts } from './inference/shop-weights.js';
export * from './terms/verdicts.js';
export { weightNeeded, type GateResult } from './verdict/gates.js';
export type { Contradiction } from './inference/contradictions.js';
export { caseProfile, caseReadings, recordOf, type CaseCapture, type CaseEvidence } from './casework/from-case.js';
export { caseBench, weighCase, type CaseBench } from './casework/case-bench.js';
export type { CaseLadder } from './casework/case-ladder.js';
export { linksOfFile, type FiledLink } from './casework/open-case-file.js';
export { writeCase, type WrittenCase } from './casework/write-case.js';
export { checkCase, type CaseFile, type CheckedCase } from './casework/case-file.js';
export { trueRippleA, trueRpm, wideCapture, type WideCapture } from './simulate/wide-capture.js';
export { wideFeed, type WideFeed } from './simulate/wide-feed.js';
export { crankRecord, type CrankRecord } from './simulate/wide-crank.js';
export { woundCapture, type WoundCapture } from './simulate/wound-motor.js';
export { driveChain, type ChainLink as DriveLink, type DriveChain } from './casework/drive-chain.js';
export { chainWindow, type LinkWindow } from './casework/chain-windows.js';
export * from './casework/watch.js';
export * from './casework/record-marks.js';
export { signalEntries } from './casework/signal-entries.js';
export { driveTables, type DriveTables } from './measure/analyser.js';
export type { DriveResult } from './measure/pulses/drive.js';
export type { SweepRecord, SweepStep } from './measure/pulses/sweep-record.js';
export type { CutStep } from './measure/pulses/sweep-steps.js';
export type { PulseMoment, PulseTrain } from './measure/pulses/types.js';
export { whenSwitched } from './measure/pulses/when-switched.js';
export type { SequenceEvent, SequenceIncident } from './measure/sequence/sequence-analyser.js';
export { driveRecord, keyedDriveRecord, type DriveRecord } from './simulate/wide-drive.js';
export { sweepCapture, type SweepCapture } from './simulate/wide-sweep.js';
export type { BalanceResult, Injection } from './measure/balance/balance-analyser.js';
export { railRecord, type RailRecord } from './simulate/wide-rail.js';
export { soundHour, type SoundHour } from './simulate/sound-hour.js';
export { intermittentRecord, type IntermittentRecord } from './simulate/wide-intermittent.js';
export * from './casework/chain.js';
export * from './casework/repair-record.js';
export { kindOf, repairState, type RepairState } from './casework/repair-state.js';
export { repairPlan, type RepairPlan } from './verdict/repair-plan.js';
export type { RepairStep } from './verdict/repair-steps.js';
export * from './casework/loose-ends.js';
export { recheck, type Recheck, type Repeat, type RepeatResult, type Remaining } from './casework/recheck.js';
export { recheckQuestion, type RecheckQuestion } from './casework/recheck-case.js';
export * from './casework/soak.js';
export { verdictGrounds, type RuledOut, type VerdictGrounds } from './casework/verdict-record.js';
export * from './casework/hand-over.js';
export * from './casework/compared.js';
export { ratedByShelf } from './casework/rated-by-shelf.js';
export * from './casework/removal.js';
export * from './evidence/recheck-checks.js';
export * from './sums/cost-of-being-wrong.js';
export { alignTurns, turnEnvelope, type TurnEnvelope } from './measure/current/align-turns.js';
export { captureText, grouped, PATTERN_NAMES } from './casework/capture-text.js';
export { describeLink, linkSentence, VERDICT_NAMES, type LinkGround } from './casework/describe-link.js';
export {
  byReading,
  caseReport,
  holdText,
  type Report,
  type ReportedCapture,
  type ReportGround,
  type SealedLink,
} from './casework/report.js';
export {
  broughtTo,
  holdAgainst,
  knownGoodOf,
  readBeside,
  type HeldAgainst,
  type KnownGood,
} from './casework/known-good.js';
export { sweepBeside, type StepBeside, type SweepBeside } from './casework/sweep-beside.js';
export { provenCaptures } from './casework/proven-captures.js';
