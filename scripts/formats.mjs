import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import prettier from 'prettier';
import { caseSchema, EVIDENCE, schemaOf, valuesOf } from '../packages/core/dist/index.js';
import { ROOT } from './lib/paths.mjs';
import { fail, say } from './lib/shell.mjs';

// Writes the JSON Schema of a case file and the page of reading kinds out of the core's registry of evidence. With --check:
// fails when either isn't what the registry says.

const FORMATS = join(ROOT, 'docs/formats');
const system = JSON.parse(readFileSync(join(FORMATS, 'jarro.system-1.schema.json'), 'utf8'));
// Inside another schema it has no name of its own.
delete system.$schema;
delete system.$id;

const code = (text) => `\`${text}\``;
const cell = (text) => text.replaceAll('|', '\\|');

function placesOf({ places = [], shaped, stations }) {
  const station = stations?.own?.length ? `the ${stations.own[0]}, or any station` : stations && 'a station';
  return [station, shaped?.says, ...places.map(({ at }) => code(at))].filter(Boolean).join(', ');
}

function valueOf(schema) {
  switch (schema.type) {
    case 'words':
      return schema.words.map(code).join(' ');
    case 'record':
      return schema.holds;
    case 'number':
      return [
        schemaOf(schema).description ?? schemaOf(schema).anyOf[0].description,
        ...(schema.words ?? []).map(code),
      ].join(', ');
  }
}

const rows = Object.entries(EVIDENCE).map(([kind, evidence]) => {
  const values =
    kind === 'check'
      ? evidence.places.map(({ at, value }) => `${at}: ${valueOf(value)}`)
      : [...new Set(valuesOf(kind).map(valueOf))];
  const example = code(JSON.stringify({ kind, ...evidence.example }));
  return `| ${code(kind)} | ${cell(placesOf(evidence))} | ${cell(values.join('; '))} | ${example} |`;
});
const page = `# Every kind of reading

Written by \`node scripts/formats.mjs\` from the registry of evidence (\`packages/core/src/evidence\`). Numbers are in SI unless a \`unit\` says otherwise; their bounds are what can be at all. Any value may be \`not-possible\`.

<!-- prettier-ignore -->
| kind | \`at\` | \`value\` | example |
| --- | --- | --- | --- |
${rows.join('\n')}
`;

const config = await prettier.resolveConfig(join(ROOT, 'package.json'));
const written = {
  'jarro.case-1.schema.json': await prettier.format(JSON.stringify(caseSchema(system)), { ...config, parser: 'json' }),
  'reading-kinds.md': await prettier.format(page, { ...config, parser: 'markdown' }),
};
for (const [name, text] of Object.entries(written)) {
  const path = join(FORMATS, name);
  if (process.argv.includes('--check')) {
    let stands = '';
    try {
      stands = readFileSync(path, 'utf8');
    } catch {
      // Absent is as old as any other text.
    }
    if (stands !== text) fail(`docs/formats/${name} is old. Run: node scripts/formats.mjs`);
  } else {
    writeFileSync(path, text);
    say(`docs/formats/${name}`);
  }
}
