import type { Verdict } from '../terms/verdicts.js';
import * as steps from './repair-steps.js';
import type { RepairStep } from './repair-steps.js';

/** How a repair is gone about, step by step. Common practice, no published source; service information comes first. */
export interface RepairPlan {
  readonly title: string;
  /** Minutes that it usually takes, access included. */
  readonly minutes: number;
  /** Fuel lines or the tank are opened: the cautions of that work come first. */
  readonly opensFuel?: true;
  readonly parts: readonly string[];
  readonly tools: readonly string[];
  readonly steps: readonly RepairStep[];
}

const PLANS: Readonly<Record<Verdict, RepairPlan>> = {
  'replace-pump': {
    title: 'Replace the pump or its assembly',
    minutes: 180,
    opensFuel: true,
    parts: [
      'Pump or whole assembly',
      'Strainer',
      'Seal of the ring',
      'One-time clamps',
      'Main filter where it can be had',
    ],
    tools: [
      'Ring tool, or a soft drift that makes no sparks',
      'Release tool of the right size',
      'Drain pump and a proper container',
    ],
    steps: [
      steps.ACCESS,
      steps.HOW_FULL,
      steps.PRESSURE_OFF,
      steps.BATTERY_OFF,
      steps.DRAIN,
      steps.SUPPORT,
      steps.LINES,
      steps.CLEAN_RING,
      steps.COMPARE,
      steps.STRAINER,
      steps.PLUG_HEAT,
      steps.NEW_SEAL,
      steps.RING_TORQUE,
      steps.CLAMPS,
      steps.LINES_SEATED,
    ],
  },
  'replace-relay': {
    title: 'Replace the relay or its box',
    minutes: 20,
    parts: ['Relay of the same terminal layout', 'Socket terminals where they are browned'],
    tools: ['Terminal release tool'],
    steps: [steps.KEY_OFF, steps.LAYOUT, steps.SOCKETS, steps.TEST_RELAY_OUT, steps.LOAD_CAUSE],
  },
  'repair-relay-control': {
    title: 'Repair the relay’s control side',
    minutes: 60,
    parts: ['Terminals and sleeve as found'],
    tools: ['Diagram of the coil’s circuit', 'Adhesive-lined crimps'],
    steps: [steps.KEY_OFF, steps.DIAGRAM, steps.COIL_FEED, steps.CONTROL_UNIT_LAST, ...steps.JOINTS],
  },
  'replace-module': {
    title: 'Replace the driver module',
    minutes: 60,
    parts: ['Driver module', 'Mounting bolts', 'Plug terminals where they are green'],
    tools: ['Penetrating oil and a bolt extractor', 'Scan tool, where the module is coded'],
    steps: [
      steps.KEY_OFF,
      steps.MODULE_SUPPLY,
      steps.MODULE_PLUG,
      steps.PART_NUMBER,
      steps.BOLTS,
      steps.DRY_SPOT,
      steps.CODING,
    ],
  },
  'repair-module-command': {
    title: 'Repair the module’s command',
    minutes: 60,
    parts: ['Terminals and sleeve as found'],
    tools: ['Diagram of the command line', 'Adhesive-lined crimps'],
    steps: [steps.KEY_OFF, steps.DIAGRAM, steps.COMMAND_SOURCE, steps.RESTRAINT_WIRE, ...steps.JOINTS],
  },
  'repair-feed-wiring': {
    title: 'Repair the feed wiring',
    minutes: 60,
    parts: ['Wire of the same gauge or larger', 'Adhesive-lined crimps', 'Conduit and straps'],
    tools: ['Crimp pliers for sealed joints', 'Heat gun, away from the tank'],
    steps: [steps.BATTERY_OFF, ...steps.JOINTS, steps.FUSE_RIGHT],
  },
  'repair-ground': {
    title: 'Repair the ground side',
    minutes: 45,
    parts: ['Ring terminal', 'Bolt with its washer', 'Protecting grease'],
    tools: ['Wire brush', 'Crimp pliers for sealed joints'],
    steps: [steps.BATTERY_OFF, steps.BARE_METAL, steps.GROUND_TORQUE, steps.GROUND_GREASE, ...steps.JOINTS],
  },
  'replace-fuse': {
    title: 'Replace the fuse and find what blew it',
    minutes: 60,
    parts: ['Fuse of the stated size'],
    tools: ['Clamp', 'Diagram of everything on this fuse'],
    steps: [steps.FUSE_CAUSE, steps.FUSE_RIGHT, steps.FUSE_LOAD, steps.SOCKETS],
  },
  'replace-switch': {
    title: 'Replace the cut-off switch',
    minutes: 30,
    parts: ['Cut-off switch'],
    tools: ['Trim tool'],
    steps: [steps.KEY_OFF, steps.SWITCH_LEAKS, steps.SWITCH_WHOLE, steps.SWITCH_MOUNT, steps.PLUG_HEAT],
  },
  'repair-battery': {
    title: 'Repair battery or charging',
    minutes: 45,
    parts: ['Battery, alternator or lead as found'],
    tools: ['Battery tester', 'Memory keeper where the maker allows one'],
    steps: [steps.LEADS_ORDER, steps.POSTS, steps.CHARGE_FULL, steps.CHARGING_READ, steps.DRAIN_AT_REST],
  },
  'replace-sensor': {
    title: 'Replace the sensor',
    minutes: 45,
    opensFuel: true,
    parts: ['Sensor', 'Its seal'],
    tools: ['Sensor socket', 'Torque wrench'],
    steps: [steps.PRESSURE_OFF, steps.SENSOR_WIRES, steps.PART_NUMBER, steps.SENSOR_TORQUE, steps.SENSOR_AGREES],
  },
  'repair-fuel-side': {
    title: 'Repair the fuel side: filter, strainer, hose or regulator',
    minutes: 90,
    opensFuel: true,
    parts: ['Filter, strainer, hose or regulator as found', 'One-time clamps', 'Seals'],
    tools: ['Release tool of the right size', 'Drain pump and a proper container'],
    steps: [
      steps.PRESSURE_OFF,
      steps.BATTERY_OFF,
      steps.HOW_FULL,
      steps.DRAIN,
      steps.LINES,
      steps.HOSE_KIND,
      steps.FLOW_ARROW,
      steps.STRAINER,
      steps.OLD_FILTER,
      steps.CLAMPS,
      steps.LINES_SEATED,
    ],
  },
  'no-fault-found': {
    title: 'Nothing to repair at the pump or its supply',
    minutes: 10,
    parts: [],
    tools: [],
    steps: [steps.PLUGS_BACK, steps.TOLD_CUSTOMER],
  },
};

/** What a verdict asks to be done: the work, its parts and tools, and its particulars one by one. */
export function repairPlan(verdict: Verdict): RepairPlan {
  return PLANS[verdict];
}
