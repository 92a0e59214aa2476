// The particulars that repairs are made of. Common practice, no published source; the service information comes first.

/** One particular of a repair: ticked when it was seen to, or left out with a reason. */
export interface RepairStep {
  readonly id: string;
  readonly text: string;
  /** Why it matters, or what happens where it is left out. */
  readonly why?: string;
  /** What can hurt someone at this step. */
  readonly caution?: string;
  /** A value that only the maker's service information gives, written down with the tick. */
  readonly asks?: string;
}

const VAPOUR =
  'Fuel vapour: no flame, spark or hot lamp near it, extinguisher at hand, doors open, glasses and gloves on. Local rules and licensed practice come first.';

export const ACCESS: RepairStep = {
  id: 'access',
  text: 'Looked for a hatch under the rear seat or the boot floor before lowering the tank.',
  why: 'A hatch saves the whole tank job.',
};
export const HOW_FULL: RepairStep = {
  id: 'how-full',
  text: 'Asked how full the tank is.',
  why: 'Three quarters full is a lift for two people.',
  caution:
    'A full tank is heavy and shifts as it comes down: drain it first, and lift it with two people or a jack made for it.',
};
export const PRESSURE_OFF: RepairStep = {
  id: 'pressure-off',
  text: 'Took the pressure off before a line was opened.',
  caution: `${VAPOUR} Direct injection: the high-pressure side is never opened casually.`,
};
export const BATTERY_OFF: RepairStep = {
  id: 'battery-off',
  text: 'Took battery − off, last on and first off.',
  why: 'A tool that slips makes no spark then.',
  caution: 'High-voltage hybrids are isolated first, by qualified people only.',
};
export const DRAIN: RepairStep = {
  id: 'drain',
  text: 'Drained the fuel into a proper container.',
  why: 'Through the pump itself with the line in the container, or by siphon; never onto the floor.',
  caution: VAPOUR,
};
export const SUPPORT: RepairStep = {
  id: 'support',
  text: 'Held the tank, and marked the propeller shaft where it had to come out.',
  why: 'Vapour hose and upper connectors come off with the tank part-lowered.',
  caution: 'Vehicle on stands and chocked, never a jack alone; the exhaust may be hot.',
};
export const LINES: RepairStep = {
  id: 'lines',
  text: 'Undid the quick-connects with a release tool of the right size.',
  why: 'Pull on the line more than you push on the tool: a broken connector costs an hour.',
};
export const CLEAN_RING: RepairStep = {
  id: 'clean-ring',
  text: 'Blew the dirt off before the ring was opened.',
  why: 'What falls into the tank goes through the new pump.',
};
export const COMPARE: RepairStep = {
  id: 'compare',
  text: 'Laid old and new part side by side: length, diameter, connector, wire order, strainer, float arm, hose.',
  why: 'A replacement pigtail may have one wire moved.',
};
export const STRAINER: RepairStep = {
  id: 'strainer',
  text: 'Fitted a new strainer, and the main filter where it can be had.',
  why: 'What stopped the old pump stops the new one.',
};
export const PLUG_HEAT: RepairStep = {
  id: 'plug-heat',
  text: 'Looked at the plug for browning and loose pins, and replaced it where there were any.',
};
export const NEW_SEAL: RepairStep = {
  id: 'new-seal',
  text: 'Fitted a new seal with a film of the stated grease, its tab in the slot.',
};
export const RING_TORQUE: RepairStep = {
  id: 'ring-torque',
  text: 'Tightened the ring as the service information says.',
  asks: 'Torque from the service information, or the mark that the ring goes to',
};
export const CLAMPS: RepairStep = {
  id: 'clamps',
  text: 'Fitted new clamps where they can be used once only.',
};
export const LINES_SEATED: RepairStep = {
  id: 'lines-seated',
  text: 'Pulled at every quick-connect to see that it holds.',
  why: 'One that only looks home sprays fuel at the first prime.',
};
export const KEY_OFF: RepairStep = {
  id: 'key-off',
  text: 'Took the key out before anything was unplugged.',
};
export const LAYOUT: RepairStep = {
  id: 'layout',
  text: 'Held the new relay’s terminal layout against the old one’s.',
  why: 'A five-pin relay may replace a four-pin one only where the extra pin is free.',
};
export const SOCKETS: RepairStep = {
  id: 'sockets',
  text: 'Looked into the sockets, and replaced those that are browned or wide.',
  why: 'A hot socket ruins the next part too.',
};
export const TEST_RELAY_OUT: RepairStep = {
  id: 'test-relay-out',
  text: 'Put no borrowed relay in for good: a test relay that stays is written down as loaned.',
};
export const LOAD_CAUSE: RepairStep = {
  id: 'load-cause',
  text: 'Held the pump’s draw against its window.',
  why: 'A pump that draws too much burns the next contact as well.',
};
export const DIAGRAM: RepairStep = {
  id: 'diagram',
  text: 'Had the diagram of this vehicle at hand, and every pin identified on it.',
  caution: 'Never put power on a coil’s or a control unit’s terminal, nor on one that you haven’t identified.',
};
export const COIL_FEED: RepairStep = {
  id: 'coil-feed',
  text: 'Found which side of the coil was missing: its feed or its ground.',
};
export const CONTROL_UNIT_LAST: RepairStep = {
  id: 'control-unit-last',
  text: 'Held every wire to the control unit against the diagram before the unit itself was blamed.',
};
export const MODULE_SUPPLY: RepairStep = {
  id: 'module-supply',
  text: 'Read the module’s supply and ground once more under load, before it came out.',
};
export const MODULE_PLUG: RepairStep = {
  id: 'module-plug',
  text: 'Looked into the module’s plug for green pins and a trail of water.',
};
export const PART_NUMBER: RepairStep = {
  id: 'part-number',
  text: 'Held the new part’s number against the old one’s.',
};
export const BOLTS: RepairStep = {
  id: 'bolts',
  text: 'Freed the rusted bolts without bending the bracket.',
};
export const DRY_SPOT: RepairStep = {
  id: 'dry-spot',
  text: 'Mounted it clean and dry, with air behind it.',
  why: 'A drier spot is fine where the lead reaches: heat and water killed the old one.',
};
export const CODING: RepairStep = {
  id: 'coding',
  text: 'Coded it by the maker’s procedure, where it must be.',
};
export const COMMAND_SOURCE: RepairStep = {
  id: 'command-source',
  text: 'Found where the command is lost: at the control unit’s pin, on the line, or at the module’s pin.',
};
export const RESTRAINT_WIRE: RepairStep = {
  id: 'restraint-wire',
  text: 'Left the restraint system’s event line alone.',
  caution: 'Restraint wiring is read by scan tool only, never probed or bridged: it can set off an airbag.',
};
export const BARE_METAL: RepairStep = {
  id: 'bare-metal',
  text: 'Cleaned the ground point to bare metal, and the ring terminal too.',
};
export const GROUND_TORQUE: RepairStep = {
  id: 'ground-torque',
  text: 'Tightened the ground bolt as the service information says.',
  asks: 'Torque from the service information',
};
export const GROUND_GREASE: RepairStep = {
  id: 'ground-grease',
  text: 'Protected the joint against water after it was tight.',
};
export const FUSE_CAUSE: RepairStep = {
  id: 'fuse-cause',
  text: 'Found what blew it: a rubbed wire, a locked pump, a wrong fuse before.',
  why: 'A new fuse without its cause blows again, on the road.',
  asks: 'What blew it',
};
export const FUSE_RIGHT: RepairStep = {
  id: 'fuse-right',
  text: 'Fitted a fuse of the stated size, and no larger one.',
  caution: 'A larger fuse sets the harness on fire.',
};
export const FUSE_LOAD: RepairStep = {
  id: 'fuse-load',
  text: 'Read the current through it with everything on this fuse running.',
};
export const SWITCH_LEAKS: RepairStep = {
  id: 'switch-leaks',
  text: 'Looked for leaks before the new switch was set.',
  caution: 'Set it only when nothing leaks. A cut-off switch is never bridged to drive.',
};
export const SWITCH_WHOLE: RepairStep = {
  id: 'switch-whole',
  text: 'Replaced the switch whole.',
  why: 'It is sealed and can’t be serviced.',
};
export const SWITCH_MOUNT: RepairStep = {
  id: 'switch-mount',
  text: 'Mounted it as it sat, the same way up.',
  why: 'Turned round it trips at a kerb, or not at all.',
};
export const LEADS_ORDER: RepairStep = {
  id: 'leads-order',
  text: 'Took battery − off first and put it on last.',
  caution: 'Battery gas explodes: no spark near it, glasses on.',
};
export const POSTS: RepairStep = { id: 'posts', text: 'Cleaned the posts and the clamps to bare metal.' };
export const CHARGE_FULL: RepairStep = {
  id: 'charge-full',
  text: 'Charged the battery full before anything was read again.',
  why: 'A weak battery confuses every reading.',
};
export const CHARGING_READ: RepairStep = {
  id: 'charging-read',
  text: 'Read the charging voltage at idle with lamps on.',
};
export const DRAIN_AT_REST: RepairStep = {
  id: 'drain-at-rest',
  text: 'Read the current at rest once the control units slept.',
};
export const SENSOR_WIRES: RepairStep = {
  id: 'sensor-wires',
  text: 'Read the sensor’s supply, ground and signal at its plug before it was replaced.',
};
export const SENSOR_TORQUE: RepairStep = {
  id: 'sensor-torque',
  text: 'Tightened the sensor as the service information says.',
  asks: 'Torque from the service information',
};
export const SENSOR_AGREES: RepairStep = {
  id: 'sensor-agrees',
  text: 'Held scan tool, sensor volts and gauge against one another with the new sensor.',
};
export const HOSE_KIND: RepairStep = {
  id: 'hose-kind',
  text: 'Used hose of the right kind: for under fuel where it lies in the tank, and for the pressure it carries.',
};
export const FLOW_ARROW: RepairStep = { id: 'flow-arrow', text: 'Fitted the filter with its arrow along the flow.' };
export const OLD_FILTER: RepairStep = {
  id: 'old-filter',
  text: 'Emptied the old filter backwards into a dish and looked at what came out.',
  why: 'Rust, rubber or brush dust says what else is wrong.',
};
export const PLUGS_BACK: RepairStep = {
  id: 'plugs-back',
  text: 'Put every plug, cover and fuse that was taken off for testing back.',
};
export const TOLD_CUSTOMER: RepairStep = {
  id: 'told-customer',
  text: 'Wrote down what to do, and what to note, when the complaint comes back.',
};

/** How a wire is mended under a vehicle. */
export const JOINTS: readonly RepairStep[] = [
  {
    id: 'bright-copper',
    text: 'Cut back to bright copper.',
    why: 'Green copper creeps on under the insulation.',
  },
  { id: 'same-gauge', text: 'Used wire of the same gauge or larger.' },
  {
    id: 'sealed-joint',
    text: 'Joined with an adhesive-lined crimp or an otherwise sealed joint, joints staggered.',
    caution: 'Heat and flame stay away from the tank and its lines.',
  },
  { id: 'shield', text: 'Joined the shield again, where the wire had one.' },
  { id: 'routed', text: 'Routed it clear of exhaust and sharp edges, and strapped it.' },
  {
    id: 'pierced-sealed',
    text: 'Sealed every spot where insulation was pierced.',
    why: 'Water goes in there, and the wire is green next winter.',
  },
];
