import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import {
  analyzeCapture,
  csvBlocks,
  InputError,
  readCapture,
  simulateCapture,
  jsonBlocks,
  writeMat,
  writeWav,
  type Analysis,
  type Capture,
  type CaptureSpec,
} from '@jarro/core';
import { parseAnalyzeArgs } from './args.js';
import { describe } from './describe.js';
import { diagnoseFile, diagnoseLines } from './diagnose.js';

const USAGE = `jarro analyze FILE [--role "CHANNEL=ROLE"] [--scale "CHANNEL=FACTOR"] [--zero "CHANNEL=VALUE"] [--invert "CHANNEL"] [--bars N] [--rate HZ] [--json]
jarro diagnose CASE.json|- [--json]   a case, or a case a line on standard input
jarro convert IN OUT          .csv, .wav, .mat and .json, by extension
jarro simulate SPEC.json OUT  a capture from the motor model`;

const LARGEST_FILE = 1 << 30;

/** Exit status of bad input; anything else that fails is a defect and shows its stack. */
const BAD_INPUT = 2;

async function run([command, ...args]: readonly string[]): Promise<void> {
  switch (command) {
    case 'analyze':
      return analyze(args);
    case 'diagnose':
      return diagnose(args);
    case 'convert':
      return convert(args);
    case 'simulate':
      return simulate(args);
    default:
      throw new InputError(`Say what to do.\n${USAGE}`);
  }
}

function analyze(args: readonly string[]): void {
  const { file, setups, bars, rateHz, json } = parseAnalyzeArgs(args);
  const capture = readCapture(file, readFile(file), rateHz === undefined ? {} : { rateHz });
  for (const name of Object.keys(setups)) {
    if (!capture.channels.some((channel) => channel.name === name || channel.header === name)) {
      const known = capture.channels.map((channel) => `"${channel.header ?? channel.name}"`).join(', ');
      throw new InputError(`There is no channel "${name}" in this file; it has ${known}.`);
    }
  }
  const analysis = analyzeCapture(basename(file), capture, { setups, ...(bars !== undefined && { bars }) });
  process.stdout.write(json ? `${JSON.stringify(forOutput(analysis))}\n` : describe(analysis));
}

/** The contract's object: what other programs don't rely on stays out. */
function forOutput(analysis: Analysis): Partial<Analysis> {
  const {
    values: _values,
    events: _events,
    turnA: _turnA,
    cloud: _cloud,
    scaleQuestions: _scaleQuestions,
    ...contract
  } = analysis;
  return contract;
}

async function diagnose(args: readonly string[]): Promise<void> {
  const json = args.includes('--json');
  const [file, ...others] = args.filter((arg) => arg !== '--json');
  if (!file || others.length > 0) throw new InputError('diagnose wants one case file, or - for a case a line.');
  if (file !== '-') return diagnoseFile(file, json);
  if (!(await diagnoseLines(json))) process.exitCode = BAD_INPUT;
}

function convert(args: readonly string[]): void {
  const [from, to] = args;
  if (!from || !to || args.length > 2) throw new InputError('convert wants two file names: IN OUT.');
  writeCapture(to, readCapture(from, readFile(from)));
}

function simulate(args: readonly string[]): void {
  const [specFile, to] = args;
  if (!specFile || !to || args.length > 2) throw new InputError('simulate wants SPEC.json and the file to write.');
  let spec: Partial<CaptureSpec>;
  try {
    spec = JSON.parse(readFile(specFile).toString()) as Partial<CaptureSpec>;
  } catch (error) {
    if (error instanceof SyntaxError) throw new InputError(`${specFile} is not valid JSON: ${error.message}.`);
    throw error;
  }
  if (typeof spec !== 'object' || spec === null || Array.isArray(spec)) {
    throw new InputError(`${specFile} must hold one JSON object.`);
  }
  writeCapture(to, simulateCapture(spec).capture);
}

function readFile(path: string): Buffer {
  try {
    if (statSync(path).size > LARGEST_FILE) throw new InputError(`${path} is over 1 GiB. Export a shorter record.`);
    return readFileSync(path);
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`${path} can't be read (${reason(error)}). Check the name and the folder.`);
  }
}

const WRITERS: Readonly<Record<string, (capture: Capture) => Uint8Array>> = {
  '.csv': (capture) => Buffer.concat([...csvBlocks(capture)]),
  '.wav': writeWav,
  '.mat': writeMat,
  '.json': (capture) => Buffer.concat([...jsonBlocks(capture)]),
};

function writeCapture(path: string, capture: Capture): void {
  const extension = extname(path).toLowerCase();
  const write = WRITERS[extension];
  if (!write) throw new InputError(`${path}: a capture can be written as ${Object.keys(WRITERS).join(', ')}.`);
  const bytes = write(capture);
  try {
    writeFileSync(path, bytes);
  } catch (error) {
    throw new InputError(`${path} can't be written (${reason(error)}).`);
  }
}

function reason(error: unknown): string {
  return error instanceof Error && 'code' in error ? String(error.code) : String(error);
}

try {
  await run(process.argv.slice(2));
} catch (error) {
  if (!(error instanceof InputError)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exitCode = BAD_INPUT;
}
