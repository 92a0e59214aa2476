import { createHash } from 'node:crypto';
import {
  ACKNOWLEDGED_CAUTIONS,
  cautionsBefore,
  csvBlocks,
  DEFAULT_HOUSE_RULES,
  DONE,
  driveTables,
  EMPTY_INTAKE,
  PART,
  readCsv,
  repairPlan,
  simulateCapture,
  type DriveTables,
  type Verdict,
} from '@jarro/core';
import type { INestApplication } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { hashPassword } from '../auth/auth.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CapturesService } from '../captures/captures.service.js';
import { Originals } from '../captures/originals.js';
import { levelsInMemory } from '../captures/levels.js';
import { measureCapture } from '../captures/measure.js';
import { CasesService } from '../cases/cases.service.js';
import { EvidenceService } from '../evidence/evidence.service.js';
import { Shop, User } from '../people/people.entities.js';
import { RepairsService } from '../repairs/repairs.service.js';
import { ShelfService } from '../shelf/shelf.service.js';
import { SystemsService } from '../systems/systems.service.js';
import { DEMO_SYSTEMS } from './systems.js';
import type { DemoCase, DemoEvidence, DemoRepair } from './demo-case.js';
import { OFTEN_MISREAD } from './often-misread.js';
import { REPAIRED_CASES } from './repaired.js';
import { DEMO_CASES, DEMO_CODE, DEMO_PASSWORD, DEMO_SHOP, DEMO_USERS } from './scenario.js';

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;

/** Fills an empty database with the demo workshop, through the same services that people use. */
export async function seedDemo(app: INestApplication): Promise<void> {
  const source = app.get(DataSource);
  if (await source.getRepository(Shop).existsBy({})) return;
  const { shop, users } = await seedPeople(source);
  const lines = new Map<string, string>();
  for (const profile of DEMO_SYSTEMS) {
    const { id } = await app.get(SystemsService).add({ user: users[0], shop }, profile);
    lines.set(profile.name, id);
  }
  for (const demo of [...DEMO_CASES, ...REPAIRED_CASES, ...OFTEN_MISREAD]) {
    const user = users.find(({ email }) => email === demo.by);
    if (!user) throw new Error(`The demo has no user ${demo.by}.`);
    await seedCase(app, { user, shop }, demo, lines);
  }
}

/** The workshop with its people and nothing on the bench. */
export async function seedPeople(source: DataSource): Promise<{ readonly shop: Shop; readonly users: User[] }> {
  const shop = await source.getRepository(Shop).save({ ...DEMO_SHOP, rules: DEFAULT_HOUSE_RULES });
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const pinHash = await hashPassword(DEMO_CODE);
  const users = await source
    .getRepository(User)
    .save(DEMO_USERS.map((user) => ({ ...user, shopId: shop.id, passwordHash, pinHash })));
  return { shop, users };
}

async function seedCase(
  app: INestApplication,
  me: SignedIn,
  demo: DemoCase,
  lines: ReadonlyMap<string, string>,
): Promise<void> {
  const cases = app.get(CasesService);
  const evidence = app.get(EvidenceService);
  const openedAt = new Date(Date.now() - demo.daysAgo * DAY_MS);
  let minutes = 0;
  const later = () => new Date(openedAt.getTime() + ++minutes * MINUTE_MS);
  const { id } = await cases.open(me, { ...demo.vehicle, complaint: demo.complaint }, openedAt);
  if (demo.intake) {
    await evidence.saveIntake(
      me,
      id,
      { basis: 0, intake: { ...EMPTY_INTAKE, vehicle: demo.vehicle, ...demo.intake } },
      later(),
    );
  }
  if (demo.system) await cases.giveSystem(me, id, { line: lines.get(demo.system) ?? '', version: 1 }, later());
  const { verdict, repair } = demo;
  const entries = [...demo.entries, ...(repair?.entries ?? [])];
  const cautions = new Set(entries.flatMap(([kind, at]) => cautionsBefore(kind, at).map((caution) => caution.id)));
  if (repair) for (const caution of ACKNOWLEDGED_CAUTIONS) cautions.add(caution);
  for (const caution of cautions) await evidence.acknowledge(me, id, { caution }, later());
  const profile = DEMO_SYSTEMS.find(({ name }) => name === demo.system);
  const bench = { app, me, id, later, system: profile ? driveTables(profile) : {} };
  await seedEvidence(bench, demo, true);
  if (verdict) await cases.decide(me, id, verdict, later());
  if (verdict && repair) await seedRepair(bench, verdict.kind, repair);
  for (const [stage, text] of demo.notes ?? []) await evidence.addNote(me, id, { stage, text }, later());
}

/** A case that is being filled. */
interface Bench {
  readonly app: INestApplication;
  readonly me: SignedIn;
  readonly id: string;
  readonly later: () => Date;
  readonly system: DriveTables;
}

/** @returns ids of the captures */
async function seedEvidence(
  { app, me, id, later, system }: Bench,
  read: DemoEvidence,
  faultPresent: boolean,
): Promise<string[]> {
  const ids: string[] = [];
  const evidence = app.get(EvidenceService);
  for (const [kind, at, value, keyState] of read.entries) {
    await evidence.add(me, id, { kind, at, value, keyState, faultPresent }, later());
  }
  for (const { label, fileName, keyState, spec = {}, record } of read.captures) {
    const capture = record ? record() : simulateCapture(spec).capture;
    const bytes = Buffer.concat([...csvBlocks(capture)]);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const setup = { setups: {} };
    const file = { label, fileName, keyState, faultPresent, sizeBytes: bytes.length, sha256, setup };
    await app.get(Originals).keep(sha256, bytes.length, () => [bytes]);
    const { levels, ...measured } = measureCapture(fileName, readCsv(bytes), { ...setup, system });
    const saving = { takenAt: later() };
    ids.push((await app.get(CapturesService).save(me, id, file, measured, levelsInMemory(levels), saving)).id);
  }
  return ids;
}

async function seedRepair(bench: Bench, verdict: Verdict, repair: DemoRepair): Promise<void> {
  const { app, me, id, later } = bench;
  const { what, minutes, parts, leftOut = {}, stated, takenOut = {}, closed, shelf } = repair;
  const repairs = app.get(RepairsService);
  for (const { id: at, asks } of repairPlan(verdict).steps) {
    const done = asks === undefined ? { done: true } : { done: true, said: stated };
    const value = Object.hasOwn(leftOut, at) ? { refused: leftOut[at] } : done;
    await repairs.repair(me, id, { at, value }, later());
  }
  for (const value of parts) await repairs.repair(me, id, { at: PART, value }, later());
  await repairs.repair(me, id, { at: DONE, value: { what, changed: true, minutes } }, later());
  const [kept] = await seedEvidence(bench, repair, false);
  for (const [at, how] of Object.entries(takenOut)) await repairs.takenOut(me, id, { at, how }, later());
  if (closed) await repairs.close(me, id, later());
  if (shelf !== undefined) await app.get(ShelfService).add(me, { captureId: kept, label: shelf });
}
