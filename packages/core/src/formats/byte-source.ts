/** A file's bytes wherever they are, read in pieces, so that a large file needn't stand in memory beside its samples. */
export interface ByteSource {
  readonly size: number;
  /** Bytes [at, at + length), fewer at the end of the file. Valid until the next read. */
  read(at: number, length: number): Uint8Array;
}

export function inMemory(bytes: Uint8Array): ByteSource {
  return { size: bytes.length, read: (at, length) => bytes.subarray(at, at + length) };
}
