import { Unzlib } from 'fflate';
import { InputError } from '../errors.js';
import { MOST_SAMPLES } from './bounds.js';

/**
 * Elements of a MAT-file of level 5 (MATLAB MAT-File Format, The MathWorks, chapter 1; from memory): a header of 128 bytes,
 * then tagged elements, those of compressed variables inflated on the way (zlib, RFC 1950).
 */

const HEADER_BYTES = 128;
const TAG_BYTES = 8;
const ALIGNED = 8;
const MATRIX = 14;
const COMPRESSED = 15;
/** A double a sample, and as much again for what stands beside them. */
const MOST_INFLATED_BYTES = 16 * MOST_SAMPLES;
const INFLATE_BLOCK = 1 << 20;
const COMPLEX = 0x0800;
const CHARACTERS = 4;
/** Classes double to uint64: full arrays of numbers. */
const FIRST_NUMERIC = 6;
const LAST_NUMERIC = 15;
const NESTED: Readonly<Record<number, string>> = { 1: 'cell array', 2: 'struct', 3: 'object', 5: 'sparse matrix' };

type Read = (view: DataView, at: number, little: boolean) => number;
/** How numbers are stored, by type: bytes each, and how one is read. */
const STORED: Readonly<Record<number, readonly [bytes: number, read: Read]>> = {
  1: [1, (view, at) => view.getInt8(at)],
  2: [1, (view, at) => view.getUint8(at)],
  3: [2, (view, at, little) => view.getInt16(at, little)],
  4: [2, (view, at, little) => view.getUint16(at, little)],
  5: [4, (view, at, little) => view.getInt32(at, little)],
  6: [4, (view, at, little) => view.getUint32(at, little)],
  7: [4, (view, at, little) => view.getFloat32(at, little)],
  9: [8, (view, at, little) => view.getFloat64(at, little)],
  12: [8, (view, at, little) => Number(view.getBigInt64(at, little))],
  13: [8, (view, at, little) => Number(view.getBigUint64(at, little))],
};

/** One variable of numbers, column after column. */
export interface MatVariable {
  readonly name: string;
  readonly rows: number;
  readonly columns: number;
  /** Reads values [from, from + out.length) of all. */
  read<T extends Float32Array | Float64Array>(out: T, from: number): T;
}

/** What a file holds: its variables of numbers, and the names of what isn't read. */
export interface MatContent {
  readonly variables: readonly MatVariable[];
  readonly passedOver: readonly string[];
}

/** Whether a file's first bytes are the header of a MAT-file of level 5. */
export function isMat(head: Uint8Array): boolean {
  return head.length >= HEADER_BYTES && String.fromCharCode(...head.subarray(0, 6)) === 'MATLAB' && head[124] <= 2;
}

/** @throws InputError for a file of another level, one that is cut off or broken, or holds more than can be read */
export function readElements(file: Uint8Array): MatContent {
  if (!isMat(file)) {
    throw new InputError('This is no MAT-file of level 5. Save it with the option "-v7" or "-v6", or export CSV.');
  }
  const view = viewOf(file);
  const order = String.fromCharCode(file[126], file[127]);
  if (order !== 'IM' && order !== 'MI') {
    throw new InputError('This MAT-file doesn’t say its byte order: it is broken. Save it again.');
  }
  const little = order === 'IM';
  const version = view.getUint16(124, little);
  if (version !== 0x0100) {
    throw new InputError(
      'This MAT-file is of version 7.3 or newer, which Jarro doesn’t read. Save it with the option "-v7".',
    );
  }
  const variables: MatVariable[] = [];
  const passedOver: string[] = [];
  for (let at = HEADER_BYTES; at + TAG_BYTES <= file.length;) {
    const tag = tagAt(view, at, little);
    const body = bodyOf(file, tag);
    if (tag.type === COMPRESSED) {
      const inflated = inflate(body);
      const inner = viewOf(inflated);
      const innerTag = tagAt(inner, 0, little);
      if (innerTag.type === MATRIX) takeMatrix(bodyOf(inflated, innerTag), little, variables, passedOver);
      at = tag.from + tag.bytes;
    } else {
      if (tag.type === MATRIX) takeMatrix(body, little, variables, passedOver);
      at = tag.next;
    }
  }
  return { variables, passedOver };
}

interface Tag {
  readonly type: number;
  readonly bytes: number;
  /** Where its data begin, and where the element after it does. */
  readonly from: number;
  readonly next: number;
}

/** A tag may hold up to four bytes of data itself: then its upper half is their number. */
function tagAt(view: DataView, at: number, little: boolean): Tag {
  if (at + TAG_BYTES > view.byteLength) throw cutOff();
  const first = view.getUint32(at, little);
  if (first >>> 16 !== 0) return { type: first & 0xffff, bytes: first >>> 16, from: at + 4, next: at + TAG_BYTES };
  const bytes = view.getUint32(at + 4, little);
  const from = at + TAG_BYTES;
  return { type: first, bytes, from, next: from + Math.ceil(bytes / ALIGNED) * ALIGNED };
}

function bodyOf(file: Uint8Array, { from, bytes }: Tag): Uint8Array {
  if (from + bytes > file.length) throw cutOff();
  return file.subarray(from, from + bytes);
}

function cutOff(): InputError {
  return new InputError('This MAT-file is cut off or broken. Save or copy it again.');
}

function takeMatrix(body: Uint8Array, little: boolean, variables: MatVariable[], passedOver: string[]): void {
  if (body.length === 0) return;
  const view = viewOf(body);
  const flagsTag = tagAt(view, 0, little);
  const flags = view.getUint32(flagsTag.from, little);
  const kind = flags & 0xff;
  const dimsTag = tagAt(view, flagsTag.next, little);
  const dims = Array.from({ length: dimsTag.bytes / 4 }, (_, i) => view.getInt32(dimsTag.from + 4 * i, little));
  const nameTag = tagAt(view, dimsTag.next, little);
  const name = String.fromCharCode(...bodyOf(body, nameTag));
  if (kind === CHARACTERS) return;
  if (kind < FIRST_NUMERIC || kind > LAST_NUMERIC || (flags & COMPLEX) !== 0 || dims.length !== 2) {
    passedOver.push(
      `${name} (${NESTED[kind] ?? ((flags & COMPLEX) !== 0 ? 'complex numbers' : 'more than two dimensions')})`,
    );
    return;
  }
  const [rows, columns] = dims;
  const dataTag = tagAt(view, nameTag.next, little);
  const stored = STORED[dataTag.type];
  if (!stored || rows < 0 || columns < 0 || rows * columns * stored[0] !== dataTag.bytes) throw cutOff();
  const [bytes, read] = stored;
  const data = viewOf(bodyOf(body, dataTag));
  variables.push({
    name,
    rows,
    columns,
    read(out, from) {
      for (let i = 0; i < out.length; i++) out[i] = read(data, (from + i) * bytes, little);
      return out;
    },
  });
}

/** @throws InputError when it is no zlib stream, or swells beyond what any record holds */
function inflate(body: Uint8Array): Uint8Array {
  const parts: Uint8Array[] = [];
  let total = 0;
  const stream = new Unzlib((part) => {
    total += part.length;
    if (total > MOST_INFLATED_BYTES) throw new InputError(TOO_MUCH);
    parts.push(part);
  });
  try {
    for (let at = 0; at < body.length; at += INFLATE_BLOCK) {
      stream.push(body.subarray(at, at + INFLATE_BLOCK), at + INFLATE_BLOCK >= body.length);
    }
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw cutOff();
  }
  const out = new Uint8Array(total);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

const TOO_MUCH = `This MAT-file holds more than ${MOST_SAMPLES / 1e6} million samples. Save a shorter record or fewer channels.`;

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
