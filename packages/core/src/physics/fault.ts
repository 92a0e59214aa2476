/** What can be wrong with a pump; what is absent is sound. */
export interface PumpFault {
  /** In series with the winding: worn brushes, ohm; Infinity is an open. */
  readonly addedOhm?: number;
  /** Friction beside the sound one, as a share of the rated torque; Infinity is locked. */
  readonly drag?: number;
  /** Share of the winding that is shorted: it neither resists nor turns, and brakes as a generator on a short does. */
  readonly shorted?: number;
  /** Flow that slips back inside at rated pressure, beside the sound one, as a share of the rated flow: worn vanes. */
  readonly slip?: number;
  /** No liquid reaches it: it turns freely and presses nothing. */
  readonly dry?: boolean;
}

/** Volts that a battery lacks: at rest, beside that while it cranks, and while the engine charges it. */
export interface BatteryFault {
  readonly restV: number;
  readonly crankV: number;
  readonly chargeV?: number;
}

/** What can be wrong with a driver module. */
export interface ModuleFault {
  /** Share of the asked duty that it passes; 0: dead. */
  readonly passes?: number;
  /** Duty that it gives out whatever is asked, 0 to 1. */
  readonly stuckAt?: number;
  /** Its own ground is open: it lives on nothing. */
  readonly groundOpen?: boolean;
}

/** What reaches a module of the control unit's wish, as a share; 0: nothing. */
export interface CommandFault {
  readonly arrives?: number;
  /** The control unit itself asks for nothing. */
  readonly notAsked?: boolean;
}

/** A change of the sound vehicle: what is wrong, and how much of it. All absent: nothing is. */
export interface Fault {
  /** Ohm added at a station; Infinity is an open. */
  readonly at?: string;
  readonly ohm?: number;
  /** Behind that station the feed touches ground: whatever fuse stands before it is blown. */
  readonly shortBehind?: string;
  /** Why a relay stays open: its own coil, nothing that pulls it, nothing that feeds its coil. */
  readonly relayOff?: 'coil' | 'control' | 'feed';
  /** Only while it cranks, when the coil gets too little to pull. */
  readonly crankingOnly?: boolean;
  /** Oil pressure closes the way round the relay already while it cranks. */
  readonly oilUp?: boolean;
  readonly battery?: BatteryFault;
  readonly pump?: PumpFault;
  /** Bars burnt, or brushes that leave them: what the current's pattern shows. */
  readonly commutator?: 'burnt' | 'brushes' | 'dead-spot';
  readonly module?: ModuleFault;
  readonly command?: CommandFault;
  /** Share of the set pressure that the regulator holds. */
  readonly regulator?: number;
  /** The regulator doesn't follow the manifold's vacuum any more. */
  readonly regulatorDeaf?: boolean;
  /** Filter's loss at rated flow beside the sound one, as a share of the rated pressure. */
  readonly clogged?: number;
  /** Flow lost on the way to the rail at rated pressure, as a share of the rated flow. */
  readonly split?: number;
  /** Pressure lost a minute after shut-down, Pa. */
  readonly leaksDown?: number;
  readonly fuel?: 'empty' | 'stale';
  /** Of two pumps the one in the tank: open inside, or turning without lifting anything. */
  readonly lift?: 'open' | 'idle';
  /** The rail sensor shows this share of the pressure. */
  readonly sensorGain?: number;
  /** The engine lacks something else. */
  readonly lacks?: 'spark' | 'injection' | 'immobiliser' | 'air' | 'compression' | 'other';
}

/** No fault at all. */
export const SOUND: Fault = {};
