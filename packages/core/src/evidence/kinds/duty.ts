import { KEY_STATES } from '../../terms/key-states.js';
import { tableOutput } from '../../vehicle/command-table.js';
import type { EvidenceKind, NamedPlace } from '../kind.js';
import { answers, type Answers, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToModule } from '../site.js';
import type { NumberValue } from '../values.js';

export const PERCENT: NumberValue = {
  type: 'number',
  unit: '%',
  least: 0,
  most: 100,
  beyond: 'A duty lies between 0 and 100 %.',
  inFiles: [-100, 100],
};

const line = (at: string, title: string): NamedPlace => ({
  at,
  title,
  stage: 'control',
  value: PERCENT,
  states: KEY_STATES,
});

/** A driver module's lines, by scope or by a meter that reads duty. */
export const duty: EvidenceKind = {
  key: 'Duty',
  places: [
    line('output', 'Duty, given out'),
    line('command', 'Duty, asked at its pin'),
    line('feedback', 'Duty, answered'),
  ],
  onPath: true,
  title: ({ at, state }) =>
    at === 'command'
      ? `Command at the module’s pin, ${state}`
      : at === 'feedback'
        ? `Feedback duty, ${state}`
        : `Duty out of the driver module, ${state}`,
  minutes: (site) => minutesToModule(site) + 3,
  danger: () => 'power-path',
  foresee: dutyParts,
  probe: 0,
  example: { at: 'output', value: 48, state: 'idle' },
};

/** A duty is told within a few per cent of itself and a point (IEEE Std 181 measures better; hand meters don't). */
const DUTY_SHARE = 0.03;
const DUTY = 0.015;

export function dutyPart(value: number, of: NumberPart['of'], { now }: Scene): Part {
  return { value, of, sd: Math.hypot(DUTY, DUTY_SHARE * of(now)), range: 1 };
}

/** A module's command as it arrives at its pin, and what it gives out. A command speaks through the profile's table. */
function dutyParts({ at, value }: Reading, scene: Scene): Part[] {
  const { vehicle } = scene;
  if (vehicle.moduleAt < 0 || typeof value !== 'number') return [];
  if (at === 'feedback') return feedbackParts(value, scene);
  return at === 'command'
    ? [dutyPart(tableOutput(vehicle.profile.commandTable, value) / 100, ({ pin }) => pin, scene)]
    : [dutyPart(value / 100, ({ output }) => output, scene)];
}

/** What a module says on its feedback line, by the words of the profile's table. */
type Says = 'dead' | 'no-command' | 'output-fault' | 'event' | 'normal';

const WORDS: readonly (readonly [Says, RegExp])[] = [
  ['event', /restraint|event|crash|cut-?off/i],
  ['no-command', /command|input|signal/i],
  ['dead', /not powered|no power|dead|no supply|unpowered/i],
  ['output-fault', /output|open|overcurrent|short|pump side|fault|stall/i],
  ['normal', /normal|ok|fine|good|healthy/i],
];

/** Meaning of a feedback duty; undefined outside the table, or where its words say nothing that is known here. */
export function feedbackSays(percent: number, table: Scene['vehicle']['profile']['feedbackTable']): Says | undefined {
  const row = table?.find(({ fromPercent, toPercent }) => percent >= fromPercent && percent <= toPercent);
  return row && WORDS.find(([, word]) => word.test(row.meaning))?.[0];
}

export function feedbackParts(percent: number, scene: Scene): Part[] {
  const said = feedbackSays(percent, scene.vehicle.profile.feedbackTable);
  return said ? [{ value: said, shares: feedbackShares(scene) }] : [];
}

/** Modules differ in what they notice: an open or a stall they often do, too little output hardly ever (common practice, no published source). */
function feedbackShares({ now, fault }: Scene): Answers {
  const rest = (shares: Answers, most: Says) => answers({ ...shares, event: 0.005 }, most);
  if (!now.moduleAlive || fault.module?.passes === 0)
    return rest({ normal: 0.05, 'no-command': 0.04, 'output-fault': 0.06 }, 'dead');
  if (now.pin < 0.02) return rest({ normal: 0.12, dead: 0.03, 'output-fault': 0.03 }, 'no-command');
  const stopped = now.output > 0 && (now.currentA < 0.1 || now.locked);
  if (stopped) return rest({ normal: 0.3, dead: 0.02, 'no-command': 0.02 }, 'output-fault');
  return rest({ 'output-fault': fault.module ? 0.1 : 0.02, dead: 0.005, 'no-command': 0.01 }, 'normal');
}
