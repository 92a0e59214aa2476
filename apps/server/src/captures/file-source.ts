import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { ByteSource } from '@jarro/core';

const BLOCK_BYTES = 1 << 20;

/** A file on the disk as a source of bytes; `close` it when read. */
export function openFile(path: string): ByteSource & { close(): void } {
  const file = openSync(path, 'r');
  const { size } = fstatSync(file);
  // No Buffer: a slice of that is no copy but the block itself, which the next read writes over.
  let block = new Uint8Array(BLOCK_BYTES);
  return {
    size,
    read(at, length) {
      if (length > block.length) block = new Uint8Array(length);
      return block.subarray(0, readSync(file, block, 0, length, at));
    },
    close: () => closeSync(file),
  };
}
