import { readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { checkCase, describeEvidence, diagnose, InputError, recordOf, sentenceOf, type Diagnosis } from '@jarro/core';

const MOST_NAMED = 3;

/** A diagnosis, and what each reading says by its id. */
interface Answer {
  readonly diagnosis: Diagnosis;
  readonly sentence: (id: string) => string;
}

/** One case's JSON text to its diagnosis. @throws InputError naming the fields that are wrong */
export function diagnoseText(text: string): Diagnosis {
  return answerText(text).diagnosis;
}

function answerText(text: string): Answer {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch (error) {
    if (error instanceof SyntaxError) throw new InputError(`not valid JSON: ${error.message}.`);
    throw error;
  }
  const checked = checkCase(content);
  if ('problems' in checked) {
    const named = checked.problems.slice(0, MOST_NAMED).map(({ field, message }) => `${field || 'case'}: ${message}`);
    const more = checked.problems.length - named.length;
    throw new InputError(`${named.join(' ')}${more > 0 ? ` And ${more} more.` : ''}`);
  }
  const { system, readings, ...options } = checked.case;
  const sentence = (id: string) => {
    const reading = readings.find((one) => one.id === recordOf(id));
    return reading ? `${id}: ${sentenceOf(describeEvidence(reading, system, 'kPa'))}` : id;
  };
  return { diagnosis: diagnose(system, readings, options), sentence };
}

export function diagnoseFile(path: string, json: boolean): void {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch (error) {
    const reason = error instanceof Error && 'code' in error ? String(error.code) : String(error);
    throw new InputError(`${path} can't be read (${reason}). Check the name and the folder.`);
  }
  try {
    write(answerText(text), json);
  } catch (error) {
    if (error instanceof InputError) throw new InputError(`${path}: ${error.message}`);
    throw error;
  }
}

/**
 * A case a line on standard input, an answer a line at once. A line that is no case is answered by `{"error"}` in its
 * place, so that answers stay in step, and named on standard error.
 * @returns whether every line was a case
 */
export async function diagnoseLines(json: boolean): Promise<boolean> {
  let good = true;
  let number = 0;
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity })) {
    number++;
    if (!line.trim()) continue;
    try {
      write(answerText(line), json);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      good = false;
      process.stdout.write(`${JSON.stringify({ error: error.message })}\n`);
      process.stderr.write(`line ${number}: ${error.message}\n`);
    }
  }
  return good;
}

/** The contract's object has no word for what remains: an empty list of tests says it. */
function write({ diagnosis, sentence }: Answer, json: boolean): void {
  const { remains: _remains, ...contract } = diagnosis;
  process.stdout.write(json ? `${JSON.stringify(contract)}\n` : describeDiagnosis(diagnosis, sentence));
}

const SHOWN = 5;

/** @param sentence what a reading says, by its id */
function describeDiagnosis(
  { suspects, nextTests, remains, contradictions, gate }: Diagnosis,
  sentence: (id: string) => string,
): string {
  const lines = ['Suspects'];
  for (const { title, family, probability, because, against } of suspects.slice(0, SHOWN)) {
    lines.push(`  ${(100 * probability).toFixed(0).padStart(3)} %  ${title} (${family})`);
    lines.push(
      ...because.map((id) => `         + ${sentence(id)}`),
      ...against.map((id) => `         - ${sentence(id)}`),
    );
  }
  const open = contradictions.filter(({ settled }) => !settled);
  const settled = contradictions.filter((one) => one.settled);
  if (open.length) lines.push('Repeat first', ...open.map(({ explanation }) => `  ${explanation}`));
  if (settled.length) lines.push('Seen and settled', ...settled.map(({ explanation }) => `  ${explanation}`));
  lines.push('Next');
  for (const { title, minutes, bits, why } of nextTests.slice(0, SHOWN)) {
    lines.push(`  ${title}: ${minutes} min, ${bits.toFixed(2)} bit. ${why}`);
  }
  lines.push(...remains.map((text) => `  ${text}`));
  lines.push('Allowed');
  const allowed = Object.entries(gate).filter(([, result]) => result.allowed);
  const named = allowed.map(([verdict, { station }]) => `  ${verdict}${station ? `, ${station}` : ''}`);
  lines.push(...(named.length ? named : ['  nothing yet']));
  const pump = gate['replace-pump'];
  if (!pump.allowed) lines.push('The pump may not be condemned', ...pump.missing.map((text) => `  ${text}`));
  return `${lines.join('\n')}\n`;
}
