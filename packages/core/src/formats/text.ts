/** Decodes header text without a platform API: UTF-8 where valid, else one byte a character (Latin-1). */
export function decodeText(bytes: Uint8Array): string {
  let escaped = '';
  for (const byte of bytes) escaped += '%' + (byte < 16 ? '0' : '') + byte.toString(16);
  try {
    return decodeURIComponent(escaped);
  } catch {
    let latin = '';
    for (const byte of bytes) latin += String.fromCharCode(byte);
    return latin;
  }
}

/** Encodes text as UTF-8 bytes. */
export function encodeText(text: string): Uint8Array {
  const escaped = encodeURIComponent(text);
  const bytes = new Uint8Array(escaped.length);
  let count = 0;
  for (let i = 0; i < escaped.length; i++) {
    if (escaped[i] === '%') {
      bytes[count++] = parseInt(escaped.slice(i + 1, i + 3), 16);
      i += 2;
    } else {
      bytes[count++] = escaped.charCodeAt(i);
    }
  }
  return bytes.slice(0, count);
}
