import 'reflect-metadata';
import { DataSource, In } from 'typeorm';
import { CaptureStore } from './captures/capture-store.js';
import { Originals } from './captures/originals.js';
import { CaseAccess } from './cases/case-access.js';
import { Case } from './cases/cases.entities.js';
import { readConfig } from './config.js';
import { dataSourceOptions } from './database/data-source.js';
import { Shop } from './people/people.entities.js';
import { VerifyService } from './seal/verify.service.js';

// Verifies the cases whose numbers are given, or all, from the shell; nothing is written. Ends with 1 where one was changed.

const numbers = process.argv.slice(2).map(Number);
const config = readConfig(process.env);
const source = await new DataSource(dataSourceOptions(config.databaseUrl)).initialize();
try {
  if (await source.showMigrations()) throw new Error('This database is of an earlier version: start Jarro on it once.');
  const seals = new VerifyService(
    source,
    config,
    new CaseAccess(source, config),
    new CaptureStore(source),
    new Originals(source),
  );
  const shops = new Map((await source.getRepository(Shop).find()).map(({ id, name }) => [id, name]));
  const cases = await source.getRepository(Case).find({
    where: numbers.length > 0 ? { number: In(numbers) } : {},
    order: { shopId: 'ASC', number: 'ASC' },
  });
  let changed = 0;
  for (const { id, number, shopId } of cases) {
    const { intact, problems, notSealed, entries, captures, photos } = await seals.verifyCase(id);
    if (!intact) changed += 1;
    const held = `${entries} entries, ${captures} captures, ${photos} photos`;
    say(`Case ${number} of ${shops.get(shopId)}: ${intact ? 'nothing was changed' : 'CHANGED'} (${held})`);
    for (const line of [...problems, ...notSealed]) say(`  ${line}`);
  }
  const missing = numbers.filter((number) => !cases.some((item) => item.number === number));
  for (const number of missing) say(`There is no case ${number}.`);
  say(`${cases.length} checked, ${changed} changed.`);
  process.exitCode = changed + missing.length === 0 ? 0 : 1;
} catch (error) {
  process.stderr.write(`The cases could not be checked: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
} finally {
  await source.destroy();
}

function say(line: string): void {
  process.stdout.write(`${line}\n`);
}
