import type { JobStage } from './jobs.js';

/** Backups that the server keeps by itself. */
export interface BackupState {
  /** On the server; null where whoever runs it has named none. */
  readonly folder: string | null;
  /** How many are kept; older ones go. */
  readonly kept: number;
  /** Newest first. */
  readonly files: readonly { readonly name: string; readonly sizeBytes: number; readonly at: string }[];
  /** The one under way, and the part of it that is written, 0 to 1. */
  readonly running: { readonly stage: JobStage; readonly share: number } | null;
  /** Why the last one failed, and what to do. */
  readonly problem: string | null;
}
