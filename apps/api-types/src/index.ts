/** What the server answers, written once for it and for whoever asks. Times are ISO 8601 text. Types alone: nothing here runs. */
export type * from './backups.js';
export type * from './cases.js';
export type * from './evidence.js';
export type * from './jobs.js';
export type * from './learned.js';
export type * from './people.js';
export type * from './shelf.js';
export type * from './systems.js';
export type * from './tools.js';
