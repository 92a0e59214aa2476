import { openDesk, TOO_MUCH } from '../src/workers/open-desk';

it('gives up a worker that thinks too long, and starts another when it is asked again', async () => {
  const workers: { terminated: boolean }[] = [];
  class Silent {
    terminated = false;
    constructor() {
      workers.push(this);
    }
    addEventListener() {}
    postMessage() {}
    terminate() {
      this.terminated = true;
    }
  }
  Object.assign(globalThis, { Worker: Silent });
  const desk = openDesk(() => undefined, 20);
  for (const started of [1, 2]) {
    expect(await desk.ask((remote) => remote.open(new File([], 'a.csv'), undefined))).toEqual({ refused: TOO_MUCH });
    expect(workers).toHaveLength(started);
    expect(workers[started - 1].terminated).toBe(true);
  }
});
