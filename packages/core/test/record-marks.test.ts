import { checkMark, marksAround, marksLine, markText, readMark, type RecordMark } from '../src/index.js';

const record = { startS: -0.5, samples: 10_000, sampleRateHz: 1000 };
const moved: RecordMark = { mark: 'disturbed', atS: 4.6, what: 'plug at the tank' };
const died: RecordMark = { mark: 'engine', atS: 6.4 };

describe('marks on a record', () => {
  it('lie on its own clock, and say something', () => {
    expect(() => checkMark(moved, record)).not.toThrow();
    expect(() => checkMark({ mark: 'engine', atS: -0.6 }, record)).toThrow(/runs from -0.500 to 9.500 s/);
    expect(() => checkMark({ mark: 'other', atS: 1 }, record)).toThrow(/in words/);
    expect(markText({ mark: 'other', atS: 1, what: 'key off' })).toBe('key off');
  });

  it('stand beside what they came shortly before or after, in order, and beside nothing else', () => {
    const incident = { startS: 5, endS: 5.8 };
    expect(marksLine(marksAround([died, moved], incident), incident.startS)).toBe(
      'disturbed: plug at the tank 0.4 s before, engine died 1.4 s after',
    );
    expect(marksAround([died, moved], { startS: 9.5 })).toEqual([]);
  });

  it.each([
    undefined,
    'engine',
    { mark: 'wheel', atS: 1 },
    { mark: 'engine', atS: '1' },
    { mark: 'engine', atS: 1, what: 5 },
  ])('are none in another form: %j', (value) => {
    expect(() => readMark(value)).toThrow(/says what it is/);
  });
});
