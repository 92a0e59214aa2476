import { createHash } from 'node:crypto';
import { csvBlocks, DEFAULT_HOUSE_LIMITS, simulateCapture } from '@jarro/core';
import type { INestApplication } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { hashPassword, type SignedIn } from '../auth/auth.service.js';
import { CapturesService } from '../captures/captures.service.js';
import { measureCapture } from '../captures/measure.js';
import { CasesService } from '../cases/cases.service.js';
import { Case, Shop, User } from '../database/entities.js';
import { DEMO_CASES, DEMO_PASSWORD, DEMO_SHOP, DEMO_USERS, type DemoCase } from './scenario.js';

const DAY_MS = 86_400_000;

/** Fills an empty database with the demo workshop, through the same services that people use. */
export async function seedDemo(app: INestApplication): Promise<void> {
  const source = app.get(DataSource);
  if (await source.getRepository(Shop).existsBy({})) return;
  const shop = await source.getRepository(Shop).save({ ...DEMO_SHOP, ...DEFAULT_HOUSE_LIMITS });
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const users = await source
    .getRepository(User)
    .save(DEMO_USERS.map((user) => ({ ...user, shopId: shop.id, passwordHash, failedSignIns: 0, lockedUntil: null })));
  for (const demo of DEMO_CASES) {
    const user = users.find(({ email }) => email === demo.by);
    if (!user) throw new Error(`The demo has no user ${demo.by}.`);
    await seedCase(app, { user, shop }, demo);
  }
}

async function seedCase(app: INestApplication, me: SignedIn, demo: DemoCase): Promise<void> {
  const cases = app.get(CasesService);
  const captures = app.get(CapturesService);
  const { id } = await cases.open(me, { ...demo.vehicle, complaint: demo.complaint });
  for (const [kind, value, keyState] of demo.readings) {
    await cases.addReading(me, id, { kind, value, keyState, faultPresent: true });
  }
  for (const { label, fileName, spec } of demo.captures) {
    const { capture } = simulateCapture(spec);
    const bytes = Buffer.concat([...csvBlocks(capture)]);
    const file = { label, fileName, sizeBytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') };
    await captures.save(me, id, file, measureCapture(fileName, capture, { setups: {} }));
  }
  if (demo.verdict) await cases.decide(me, id, demo.verdict);
  const source = app.get(DataSource);
  await source.getRepository(Case).update(id, { openedAt: new Date(Date.now() - demo.daysAgo * DAY_MS) });
}
