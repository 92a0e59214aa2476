import type { Control, Regulator, StationKind } from '@jarro/core';
import {
  Battery,
  Box,
  Cable,
  CircleDot,
  Cpu,
  Fuel,
  GitFork,
  Plug,
  ToggleRight,
  Unplug,
  Waypoints,
  Zap,
  type LucideIcon,
} from 'lucide-react';

export const STATION_WORDS: Readonly<Record<StationKind, { readonly name: string; readonly icon: LucideIcon }>> = {
  battery: { name: 'Battery', icon: Battery },
  'fusible-link': { name: 'Fusible link', icon: Waypoints },
  fuse: { name: 'Fuse', icon: Zap },
  relay: { name: 'Relay', icon: ToggleRight },
  'cutoff-switch': { name: 'Cut-off switch', icon: Unplug },
  'junction-box': { name: 'Junction box', icon: Box },
  module: { name: 'Driver module', icon: Cpu },
  splice: { name: 'Splice', icon: GitFork },
  connector: { name: 'Connector', icon: Plug },
  wire: { name: 'Wire', icon: Cable },
  pump: { name: 'Pump', icon: Fuel },
  ground: { name: 'Ground point', icon: CircleDot },
};

export const CONTROL_NAMES: Readonly<Record<Control, string>> = {
  relay: 'Relay, one speed',
  'relay-oil-switch': 'Relay with an oil-pressure switch beside it',
  'module-commanded': 'Driver module, the control unit regulates',
  'module-self': 'Driver module that regulates by itself',
  'two-speed': 'Two speeds by command',
  stepped: 'Fixed duty steps',
  lift: 'Lift pump before a high-pressure pump',
};

export const REGULATOR_NAMES: Readonly<Record<Regulator, string>> = {
  'rail-vacuum': 'At the rail, with a vacuum hose',
  tank: 'In the tank',
  module: 'The module',
  'control-unit': 'The control unit',
  none: 'None',
};
