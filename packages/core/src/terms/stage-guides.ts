import type { Stage } from './stages.js';

/** What can hurt someone at a stage. */
export interface Caution {
  readonly id: string;
  /** In two or three words, for where the whole text would be in the way. */
  readonly name: string;
  readonly text: string;
  /** Work of this stage can hurt someone: it is acknowledged once a case before anything is entered. */
  readonly acknowledge: boolean;
}

/** A stage’s purpose, cautions and common mistakes. */
export interface StageGuide {
  readonly stage: Stage;
  readonly title: string;
  readonly purpose: string;
  readonly cautions: readonly Caution[];
  /** What goes wrong here, as the tool is to catch it. */
  readonly mistakes: readonly string[];
}

const VAPOUR: Caution = {
  id: 'fuel-vapour',
  name: 'Fuel vapour',
  text: 'Fuel vapour: no flame, spark or hot lamp near it, extinguisher at hand, doors open, glasses and gloves on.',
  acknowledge: true,
};
const RUNNING: Caution = {
  id: 'running-engine',
  name: 'Running engine',
  text: 'Running engine: keep clear of belts, fans and hot exhaust, nothing loose, wheels chocked. Under the vehicle only on stands.',
  acknowledge: false,
};
const LOCAL = 'Local rules and licensed practice come first.';

/** What each stage is for, where it can hurt, and how it is got wrong. Common practice, no published source. */
export const STAGE_GUIDES: readonly StageGuide[] = [
  {
    stage: 'intake',
    title: 'Intake',
    purpose: 'Who says what, since when, and what was already done to it.',
    cautions: [],
    mistakes: [
      'Taking "it’s the pump" for a diagnosis: write down who condemned what, and on which evidence.',
      'Codes that follow from a dead battery: read them again after charging.',
      'A jumper or a wrong fuse left in by someone before you.',
    ],
  },
  {
    stage: 'first-checks',
    title: 'First checks',
    purpose: 'Seconds each, before any tool comes out.',
    cautions: [
      {
        id: 'spray',
        name: 'Spray and switches',
        text: 'Spray fuel only in short bursts, cover back on, extinguisher at hand, nobody over the engine. Reset an impact switch only after looking for leaks. Restraint wiring is not probed or bridged.',
        acknowledge: true,
      },
      RUNNING,
    ],
    mistakes: [
      'Believing the fuel gauge.',
      'A weak battery, or a charger left on, which confuses every later reading.',
      'Calling a silent pump dead: silence has ten causes.',
    ],
  },
  {
    stage: 'pressure',
    title: 'Pressure',
    purpose: 'What the pump delivers, and whether it holds.',
    cautions: [
      VAPOUR,
      {
        id: 'open-line',
        name: 'Opening a line',
        text: `Relieve the pressure before opening a line; rag round the port; catch fuel and dispose of it by local code. ${LOCAL}`,
        acknowledge: true,
      },
      {
        id: 'high-side',
        name: 'High-pressure side',
        text: 'Direct injection: the high-pressure side (20 MPa and more) penetrates skin. It is not opened here; read it by scan tool.',
        acknowledge: true,
      },
    ],
    mistakes: [
      'Air in the gauge: cycle the key and bleed before the first number counts.',
      'Missing the prime window: key off ten seconds or more before each try.',
      'Believing "it squirts": that only rules out zero pressure, and it is a fire hazard.',
      'Comparing pressures taken at different battery voltage.',
    ],
  },
  {
    stage: 'power-path',
    title: 'Power path',
    purpose: 'Loaded voltage from battery + to battery −, station by station.',
    cautions: [
      {
        id: 'power',
        name: 'Power where it belongs',
        text: 'Fused jumpers only, sized to the circuit. Never power a terminal you have not identified on a diagram, never the relay coil or control-unit pins. High-voltage hybrids are isolated first, by qualified people only.',
        acknowledge: true,
      },
    ],
    mistakes: [
      'An open-circuit 12 V taken for a good feed: with no current it passes through a hair.',
      'A bad meter ground or a pin not touching: repeat from the battery post.',
      'A reading taken while the fault was absent.',
      'Ten volts while cranking taken for a fault.',
    ],
  },
  {
    stage: 'current',
    title: 'Pump current',
    purpose: 'What the motor does, hump by hump.',
    cautions: [RUNNING],
    mistakes: [
      'A clamp not zeroed, backwards, or on the wrong range: ten times off looks like a dead or a monster pump.',
      'Fewer than ten samples a hump: the shape is lost.',
      'Comparing speeds at different voltage.',
    ],
  },
  {
    stage: 'control',
    title: 'Control signals',
    purpose: 'Command in, output out, on driven pumps.',
    cautions: [
      {
        id: 'module',
        name: 'No guessed pins',
        text: 'Back-probe, don’t pierce. Never guess a pin: a sender line fed with 12 V is destroyed.',
        acknowledge: false,
      },
    ],
    mistakes: ['A command table misread by a factor of two.', 'An averaging meter on a pulsed output.'],
  },
  {
    stage: 'verdict',
    title: 'Verdict',
    purpose: 'What is condemned, on which evidence.',
    cautions: [],
    mistakes: ['Condemning the pump with the ground unchecked.', 'Condemning on ripple alone.'],
  },
  {
    stage: 'repair',
    title: 'Repair',
    purpose: 'What was done, with which part.',
    cautions: [
      VAPOUR,
      {
        id: 'tank-down',
        name: 'Tank down',
        text: `Pressure off, battery negative off, fuel drained into a proper container; a full tank is a two-person lift; vehicle on stands. ${LOCAL}`,
        acknowledge: true,
      },
    ],
    mistakes: ['The wrong part: compare length, connector and wire order before fitting.', 'A bypass left fitted.'],
  },
  {
    stage: 'recheck',
    title: 'Recheck',
    purpose: 'The same tests as before, side by side.',
    cautions: [RUNNING],
    mistakes: ['No recheck.', 'Fuel trims left at their learned extreme after the fix.'],
  },
  { stage: 'closed', title: 'Closed', purpose: 'Proven, recorded, handed back.', cautions: [], mistakes: [] },
];

/** What a stage is for, and what can hurt or go wrong in it. */
export function stageGuide(stage: Stage): StageGuide {
  const guide = STAGE_GUIDES.find((g) => g.stage === stage);
  if (!guide) throw new Error(`No guide for ${stage}`);
  return guide;
}

/** A caution by its id; undefined where no stage has it. */
export function findCaution(id: string): Caution | undefined {
  return STAGE_GUIDES.flatMap(({ cautions }) => cautions).find((caution) => caution.id === id);
}

/** Every caution that is acknowledged, once each. */
export const ACKNOWLEDGED_CAUTIONS: readonly string[] = [
  ...new Set(STAGE_GUIDES.flatMap(({ cautions }) => cautions.filter((c) => c.acknowledge).map((c) => c.id))),
];
