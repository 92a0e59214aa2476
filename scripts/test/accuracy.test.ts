import { execFile } from 'node:child_process';
import { promisify } from 'node:util';

// Pumps, clamps and recorders of every kind, drawn by shape: odd bar counts, dead stretches, brush bounce, stalls, mains
// pick-up, ignition, coarse steps, recorders that average or keep extremes, clamps that drift or pass no steady current.
// The bench scores them; here is what has to stay true. In plain Node, since signal code runs slowly in a test's sandbox.

interface Board {
  readonly rows: Readonly<Record<string, readonly [good: number, all: number]>>;
  readonly missed: readonly string[];
}

let board: Board;
beforeAll(async () => {
  const { stdout } = await promisify(execFile)(
    process.execPath,
    ['scripts/bench.mjs', 'accuracy', '9001', '300', '--json'],
    { maxBuffer: 1 << 24 },
  );
  board = JSON.parse(stdout.slice(stdout.indexOf('{'))) as Board;
}, 300_000);

it.each([
  ['speed within 1 %', 0.93],
  ['measured and right', 0.97],
  ['mean within 1 % and the clamp’s drift', 1],
  ['direction of the clamp', 1],
  ['burnt called so', 0.97],
  ['sound not called burnt', 0.98],
  ['chopped called so, nothing else', 0.98],
  ['stall told', 0.85],
  ['open is no current', 0.85],
  ['steady current not called AC-coupled', 0.97],
])('%s, in at least that share: %d', (item, least) => {
  const [good, all] = board.rows[item];
  expect(all).toBeGreaterThan(10);
  const missed = board.missed.filter((line) => line.startsWith(item));
  expect({ isEnough: good >= least * all, missed: good >= least * all ? [] : missed }).toEqual({
    isEnough: true,
    missed: [],
  });
});

it('the speed’s 95 % intervals cover about as often as they say', () => {
  const [good, all] = board.rows['95 % interval of the speed covers'];
  expect(all).toBeGreaterThan(40);
  expect(good / all).toBeGreaterThan(0.88);
});
