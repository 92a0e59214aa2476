import type { CaptureSetup } from '@jarro/api-types';
import type { KeyState } from '@jarro/core';

/** A file that came in, with what was said of it. */
export interface CapturedFile {
  readonly fileName: string;
  readonly label: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  /** Position of the key, and whether the fault showed, while it was taken. */
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
  readonly setup: CaptureSetup;
  /** The file itself, from its beginning. */
  readonly content: AsyncIterable<Buffer> | Iterable<Buffer>;
}
