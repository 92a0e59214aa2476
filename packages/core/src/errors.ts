/**
 * Input that can't be used. The message is one line for the person who gave it: what is wrong and what to do.
 * Everything else that is thrown is a defect.
 */
export class InputError extends Error {
  override readonly name = 'InputError';
  /** For whoever can put it right by asking: the words may change, this doesn't. */
  readonly code?: InputCode;

  constructor(message: string, { code, ...options }: ErrorOptions & { readonly code?: InputCode } = {}) {
    super(message, options);
    if (code !== undefined) this.code = code;
  }
}

/** `rate-unknown`: a sample rate that is given makes the file readable. */
export type InputCode = 'rate-unknown';

/** A result that the data can't support, and the reason. */
export interface CannotTell {
  readonly what: string;
  readonly because: string;
}
