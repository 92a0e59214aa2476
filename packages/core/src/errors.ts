/**
 * Input that can't be used. The message is one line for the person who gave it: what is wrong and what to do.
 * Everything else that is thrown is a defect.
 */
export class InputError extends Error {
  override readonly name = 'InputError';
}

/** A result that the data can't support, and the reason. */
export interface CannotTell {
  readonly what: string;
  readonly because: string;
}
