import type { ScaledTool } from '@jarro/core';

/** A clamp or transducer of the shop's own. */
export interface ToolItem extends ScaledTool {
  readonly id: string;
}
