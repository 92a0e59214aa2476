import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './lib/paths.mjs';
import { fail, say } from './lib/shell.mjs';

// Writes every number that measuring a record rests on, with its reason, into one page, out of the source where it stands. With --check: fails when the page isn't what the source says.

const MEASURE = 'packages/core/src/measure';
const FOLDERS = ['current', 'pulses', 'sequence'];
const PAGE = join(ROOT, 'docs/measuring-numbers.md');
const CONSTANT = /^(?:export )?const ([A-Z][A-Z0-9_]*)(?:: [^=]+)? = ([^;]+);/;

/** Constants of one file; one without a comment of its own shares that of the one above it. */
function numbersOf(text) {
  const rows = [];
  let comment = [];
  let reason = '';
  let inComment = false;
  for (const line of text.split('\n')) {
    const constant = CONSTANT.exec(line);
    if (line.startsWith('/**')) {
      comment = [];
      inComment = true;
    }
    if (inComment) {
      comment.push(
        line
          .replace(/^\/?\s*\*+\/?\s?/, '')
          .replace(/\s*\*\/$/, '')
          .trim(),
      );
      if (line.includes('*/')) {
        inComment = false;
        reason = comment.filter(Boolean).join(' ');
      }
    } else if (constant && /\d/.test(constant[2])) {
      rows.push({ name: constant[1], value: constant[2], reason });
    } else if (line.trim() && !constant) reason = '';
  }
  return rows;
}

const cell = (text) => text.replaceAll('|', '\\|');
const lines = ['# The numbers behind what is measured', ''];
lines.push(
  'Written by `node scripts/numbers.mjs` from the source; [how a pump current is measured](measuring.md) and [how switched lines and intermittents are](signals.md) tell what they are for. Each is a significance level, a physical bound, or a property of an instrument. Where no source is named it is common practice, or follows from the text beside it.',
  '',
);
for (const folder of FOLDERS) {
  for (const file of readdirSync(join(ROOT, MEASURE, folder)).sort()) {
    const rows = numbersOf(readFileSync(join(ROOT, MEASURE, folder, file), 'utf8'));
    if (rows.length === 0) continue;
    lines.push(`## ${folder}/${file}`, '', '<!-- prettier-ignore -->', '| number | is | why |', '| --- | --- | --- |');
    for (const { name, value, reason } of rows) {
      if (!reason) fail(`${folder}/${file}: ${name} says no reason. Write it above the number.`);
      lines.push(`| ${name} | ${cell(value)} | ${cell(reason)} |`);
    }
    lines.push('');
  }
}
const page = lines.join('\n');
if (process.argv.includes('--check')) {
  if (readFileSync(PAGE, 'utf8') !== page) fail('docs/measuring-numbers.md is old. Run: node scripts/numbers.mjs');
} else {
  writeFileSync(PAGE, page);
  say(`${lines.filter((line) => line.startsWith('| ') && !line.startsWith('| number')).length} lines`);
}
