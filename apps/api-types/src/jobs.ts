/** What a job is at. */
export type JobStage = 'receiving' | 'waiting' | 'measuring' | 'checking' | 'storing';

/** How far a job has come. */
export interface JobProgress {
  readonly state: 'receiving' | 'waiting' | 'running' | 'done' | 'failed';
  readonly stage: JobStage;
  /** Part of the stage that is done, 0 to 1. */
  readonly share: number;
  /** What it made, an entry or a case for one, when it is done. */
  readonly id?: string;
  /** Why it failed, and what to do. */
  readonly problem?: string;
}
