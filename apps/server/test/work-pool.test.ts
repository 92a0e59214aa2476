import { WorkPool } from '../src/work/work-pool.js';

it('asks for another try where the server stops before a case is weighed', async () => {
  const pool = new WorkPool();
  const asked = pool.report({ kind: 'case' } as unknown as Parameters<WorkPool['report']>[0]);
  const told = expect(asked).rejects.toMatchObject({
    status: 503,
    message: expect.stringMatching(/try again/) as string,
  });
  await pool.onApplicationShutdown();
  await told;
});
