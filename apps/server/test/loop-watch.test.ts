import { LoopWatch } from '../src/health/loop-watch.js';
import { log } from '../src/http/log.js';

it('says how long something held the event loop', async () => {
  const said = new Promise<number>((resolve) => {
    jest.spyOn(log, 'warn').mockImplementation((...told: unknown[]) => {
      const { heldMs } = told[0] as { heldMs: number };
      // A busy machine may hold it before.
      if (heldMs >= 250) resolve(heldMs);
    });
  });
  const watch = new LoopWatch();
  watch.begin();
  try {
    await new Promise((resolve) => setTimeout(resolve, 50));
    const until = performance.now() + 300;
    while (performance.now() < until);
    expect(await said).toBeGreaterThanOrEqual(250);
  } finally {
    watch.onModuleDestroy();
    jest.restoreAllMocks();
  }
});
