/** Powers of ten that a double holds exactly, so that mantissa times or over one of them rounds once. */
const EXACT_POWER = Array.from({ length: 23 }, (_, i) => 10 ** i);
const LARGEST_EXACT_MANTISSA = Number.MAX_SAFE_INTEGER;

/**
 * Reads the decimal number in bytes[from, to).
 * Correctly rounded: mantissa below 2^53 and exponent within 10^22 make one exact operation
 * (W. D. Clinger, "How to read floating point numbers accurately", PLDI 1990, fast path; from memory); all else goes to Number.
 * @returns NaN when the bytes are no number
 */
export function scanNumber(bytes: Uint8Array, from: number, to: number, decimalByte: number): number {
  let i = from;
  let negative = false;
  if (i < to && (bytes[i] === 45 || bytes[i] === 43)) negative = bytes[i++] === 45;
  let mantissa = 0;
  let digits = 0;
  let exponent = 0;
  for (; i < to; i++, digits++) {
    const digit = bytes[i] - 48;
    if (digit < 0 || digit > 9) break;
    mantissa = mantissa * 10 + digit;
  }
  if (i < to && bytes[i] === decimalByte) {
    for (i++; i < to; i++, digits++) {
      const digit = bytes[i] - 48;
      if (digit < 0 || digit > 9) break;
      mantissa = mantissa * 10 + digit;
      exponent--;
    }
  }
  if (digits === 0) return NaN;
  if (i < to && (bytes[i] | 32) === 101) {
    i++;
    let down = false;
    if (i < to && (bytes[i] === 45 || bytes[i] === 43)) down = bytes[i++] === 45;
    if (i >= to) return NaN;
    let power = 0;
    for (; i < to; i++) {
      const digit = bytes[i] - 48;
      if (digit < 0 || digit > 9) return NaN;
      power = Math.min(power * 10 + digit, 9999);
    }
    exponent += down ? -power : power;
  }
  if (i !== to) return NaN;
  if (mantissa > LARGEST_EXACT_MANTISSA || exponent > 22 || exponent < -22) {
    return slowNumber(bytes, from, to, decimalByte);
  }
  const value = exponent < 0 ? mantissa / EXACT_POWER[-exponent] : mantissa * EXACT_POWER[exponent];
  return negative ? -value : value;
}

function slowNumber(bytes: Uint8Array, from: number, to: number, decimalByte: number): number {
  let text = '';
  for (let i = from; i < to; i++) text += bytes[i] === decimalByte ? '.' : String.fromCharCode(bytes[i]);
  return Number(text);
}
