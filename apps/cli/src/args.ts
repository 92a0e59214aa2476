import { InputError, isRole, ROLES, type ChannelSetup } from '@jarro/core';

export interface AnalyzeArgs {
  readonly file: string;
  readonly setups: Record<string, Partial<ChannelSetup>>;
  readonly bars?: number;
  readonly rateHz?: number;
  readonly json: boolean;
}

/** Reads the arguments of `analyze`. @throws InputError in words for the person at the shell */
export function parseAnalyzeArgs(args: readonly string[]): AnalyzeArgs {
  const setups: Record<string, Mutable<Partial<ChannelSetup>>> = {};
  const found: { file?: string; bars?: number; rateHz?: number; json: boolean } = { json: false };
  const setup = (channel: string) => (setups[channel] ??= {});
  for (let i = 0; i < args.length; i++) {
    const arg = args[i];
    const value = () => {
      const next = args[++i];
      if (next === undefined) throw new InputError(`${arg} needs a value after it.`);
      return next;
    };
    switch (arg) {
      case '--json':
        found.json = true;
        break;
      case '--role': {
        const [channel, role] = pair(arg, value());
        if (!isRole(role)) throw new InputError(`"${role}" is no role; use one of ${ROLES.join(', ')}.`);
        setup(channel).role = role;
        break;
      }
      case '--scale': {
        const [channel, text] = pair(arg, value());
        setup(channel).factor = number(arg, text);
        break;
      }
      case '--zero': {
        const [channel, text] = pair(arg, value());
        setup(channel).zero = number(arg, text);
        break;
      }
      case '--invert':
        setup(value()).invert = true;
        break;
      case '--bars':
        found.bars = wholeBars(number(arg, value()));
        break;
      case '--rate':
        found.rateHz = number(arg, value());
        if (found.rateHz <= 0) throw new InputError('--rate must be above zero, in samples a second.');
        break;
      default:
        if (arg.startsWith('--')) throw new InputError(`Unknown option ${arg}.`);
        if (found.file !== undefined) throw new InputError(`One file at a time: "${found.file}" or "${arg}".`);
        found.file = arg;
    }
  }
  const { file, ...rest } = found;
  if (file === undefined) throw new InputError('Name the capture file to analyze.');
  return { file, setups, ...rest };
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/** "CHANNEL NAME=VALUE"; the name may itself hold an equals sign, the value never does. */
function pair(option: string, text: string): [string, string] {
  const at = text.lastIndexOf('=');
  if (at <= 0) throw new InputError(`${option} wants "CHANNEL NAME=VALUE".`);
  return [text.slice(0, at), text.slice(at + 1)];
}

function number(option: string, text: string): number {
  const value = text.trim() === '' ? NaN : Number(text);
  if (!Number.isFinite(value)) throw new InputError(`${option}: "${text}" is not a number.`);
  return value;
}

function wholeBars(bars: number): number {
  if (!Number.isInteger(bars) || bars < 3 || bars > 40)
    throw new InputError('--bars must be a whole number from 3 to 40.');
  return bars;
}
