import { scaleOf, toolKindFor, type ChannelSetup, type Role, type ScaledTool } from '@jarro/core';
import type { OpenedFile } from '../../workers/capture-desk';

/** What is filled in for one channel before a capture is kept. */
export interface ChannelForm {
  readonly role: Role;
  /** What was clipped on; undefined: the file's own unit holds. */
  readonly tool: ScaledTool | undefined;
  readonly invert: boolean;
  /** What the clamp showed with the pump off, A; undefined: that is looked for in the record. */
  readonly zeroA?: number | undefined;
}

type OpenedChannel = OpenedFile['channels'][number];

/** A tool stays only where the role asks for its kind, and a clamp's zero with the clamp. */
export function withRole({ tool, zeroA, invert }: ChannelForm, role: Role): ChannelForm {
  return {
    ...{ role, invert },
    tool: tool?.kind === toolKindFor(role) ? tool : undefined,
    ...(role === 'pump_current' && { zeroA }),
  };
}

/** How a channel is read, as the measuring takes it. */
export function setupOf(channel: OpenedChannel, { role, tool, invert, zeroA }: ChannelForm): ChannelSetup {
  const scale = tool && scaleOf(tool, channel);
  const zero = zeroA === undefined ? scale?.zero : zeroA / (scale?.factor ?? channel.fileFactor);
  return {
    role,
    ...(scale && { factor: scale.factor }),
    ...(zero !== undefined && { zero }),
    ...(invert && { invert }),
  };
}

/** The picture's numbers from those of the opened file, which are in V, A or Pa where it says its unit; and their unit. */
export function shownBy(channel: OpenedChannel, form: ChannelForm): { unit: string; of: (value: number) => number } {
  const { factor = channel.fileFactor, zero = 0, invert } = setupOf(channel, form);
  const kind = form.tool?.kind;
  const unit = kind === 'clamp' ? 'A' : kind === 'transducer' ? 'Pa' : kind === 'probe' ? 'V' : channel.unit;
  const by = invert ? -factor : factor;
  return { unit: unit === '1' ? '' : unit, of: (value) => (value / channel.fileFactor - zero) * by };
}
