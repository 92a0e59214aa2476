import type { CaptureSetup } from '@jarro/api-types';
import type { KeyState } from '@jarro/core';

/** A file among the originals, with how it is read. */
export interface KeptFile {
  readonly fileName: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  readonly setup: CaptureSetup;
}

/** A file that came in, with what was said of it; its content is kept among the originals. */
export interface CaptureTask extends KeptFile {
  readonly label: string;
  /** Position of the key, and whether the fault showed, while it was taken. */
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
}

/** A capture whose kept file is to be measured again. */
export interface AgainTask {
  readonly captureId: string;
}
