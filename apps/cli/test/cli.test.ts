import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const MAIN = join(__dirname, '../dist/main.js');
const folder = mkdtempSync(join(tmpdir(), 'jarro-cli-'));
const at = (name: string) => join(folder, name);

function jarro(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [MAIN, ...args], { encoding: 'utf8' });
  return { status, stdout, stderr };
}

beforeAll(() => {
  writeFileSync(
    at('spec.json'),
    JSON.stringify({
      seed: 5,
      sampleRateHz: 20_000,
      durationS: 0.8,
      bars: 10,
      clampGain: -0.1,
      noiseA: 0.002,
      fullScaleA: 2,
      barSpread: 0.03,
    }),
  );
  expect(jarro('simulate', at('spec.json'), at('a.csv'))).toMatchObject({ status: 0, stderr: '' });
  expect(jarro('convert', at('a.csv'), at('a.wav'))).toMatchObject({ status: 0, stderr: '' });
});

describe('analyze', () => {
  it.each(['a.csv', 'a.wav'])('prints the contract’s object for %s', (file) => {
    const channel = file === 'a.csv' ? 'Pump current' : 'ch1';
    const { status, stdout } = jarro('analyze', at(file), '--scale', `${channel}=10`, '--json');
    expect(status).toBe(0);
    const result = JSON.parse(stdout) as Record<string, never>;
    expect(result).toMatchObject({
      capture: {
        file,
        sampleRateHz: 20_000,
        samples: 16_000,
        channels: [{ name: channel, role: 'pump_current', unit: 'A' }],
      },
      ramp: { inverted: true, pattern: 'even', humps: { perRevolution: 10, basis: 'measured' } },
    });
    expect(Object.keys(result).sort()).toEqual(['cannotTell', 'capture', 'findings', 'ramp']);
  });

  it('reads well without --json', () => {
    const { stdout } = jarro('analyze', at('a.csv'), '--scale', 'Pump current=10');
    expect(stdout).toMatch(/^Speed: \d{4} rpm \([\d.]+ to [\d.]+\), from [\d.]+ to [\d.]+ s$/m);
    expect(stdout).toMatch(/^Humps: [\d.]+ a second, 10 a turn, measured$/m);
  });
});

describe('bad input: exit 2, one line, no stack', () => {
  it.each([
    [['analyze', at('none.csv')], /can't be read/],
    [['analyze'], /Name the capture file/],
    [['analyze', at('a.csv'), '--role', 'Pump current=flux'], /is no role/],
    [['analyze', at('a.csv'), '--role', 'Ghost=other'], /no channel "Ghost"/],
    [['analyze', at('a.csv'), '--bars', '2.5'], /whole number/],
    [['analyze', at('a.csv'), '--scale', 'Pump current=0'], /other than zero/],
    [['analyze', at('spec.json')], /This JSON is no capture/],
    [['convert', at('a.csv'), at('a.xyz')], /\.csv, \.wav, \.mat/],
    [['simulate', at('a.csv'), at('b.csv')], /not valid JSON/],
  ])('%j', (args, message) => {
    const { status, stdout, stderr } = jarro(...args);
    expect({ status, stdout }).toEqual({ status: 2, stdout: '' });
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(message);
  });

  it('names an unknown field of a simulation', () => {
    writeFileSync(at('odd.json'), '{"barz": 8}');
    expect(jarro('simulate', at('odd.json'), at('odd.csv')).stderr).toMatch(/"barz" is no field/);
    expect(() => readFileSync(at('odd.csv'))).toThrow();
  });
});

describe('diagnose', () => {
  const example = (path: string) => join(__dirname, '../../../docs/formats/examples', path);

  it('prints the contract’s object for a case file', () => {
    const { status, stdout } = jarro('diagnose', example('p1.json'), '--json');
    expect(status).toBe(0);
    const answer = JSON.parse(stdout) as Record<string, unknown>;
    expect(Object.keys(answer)).toEqual(['suspects', 'families', 'nextTests', 'contradictions', 'gate']);
    expect(answer.families).toHaveLength(16);
    expect((answer.suspects as unknown[])[0]).toMatchObject({ id: 'relay', family: 'relay-contact' });
    expect((answer.suspects as { because: string[] }[])[0].because).toContain('r3');
    expect(answer).toMatchObject({
      gate: { 'replace-relay': { allowed: true, missing: [] }, 'replace-pump': { allowed: false } },
    });
    expect(jarro('diagnose', example('p1.json')).stdout).toContain('The pump may not be condemned');
  });

  it('answers a case a line, a bad one in its place', () => {
    const good = JSON.stringify(JSON.parse(readFileSync(example('p2.json'), 'utf8')));
    const { status, stdout, stderr } = spawnSync(process.execPath, [MAIN, 'diagnose', '-', '--json'], {
      encoding: 'utf8',
      input: `${good}\n{"format":\n${good}\n`,
    });
    const [first, second, third] = stdout
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(status).toBe(2);
    expect(third).toEqual(first);
    expect(second).toEqual({ error: expect.stringContaining('not valid JSON') as string });
    expect(stderr).toMatch(/^line 2: .*\n$/);
  });

  it('refuses a bad file in one line', () => {
    writeFileSync(at('bad.json'), '{"format":"jarro.case/1","system":{"template":"P1"},"readings":[{"kind":"swap"}]}');
    const { status, stdout, stderr } = jarro('diagnose', at('bad.json'));
    expect({ status, stdout }).toEqual({ status: 2, stdout: '' });
    expect(stderr).toMatch(/bad\.json: readings\[0\]\.state: Say one of: off, prime.*\n$/);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });
});
