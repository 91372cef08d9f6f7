/** A checksum over numbers, to the bit (FNV-1a over their bytes, 64 bits in two halves, as hexadecimal). */
export function digestOf(columns: readonly Float64Array[]): string {
  let a = 0x811c9dc5;
  let b = 0xcbf29ce4;
  for (const column of columns) {
    const bytes = new Uint8Array(column.buffer, column.byteOffset, column.byteLength);
    for (const byte of bytes) {
      a = Math.imul(a ^ byte, 0x01000193);
      b = Math.imul(b ^ byte, 0x01000193) ^ (a >>> 13);
    }
  }
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, '0')).join('');
}

/** A short name of a text: two texts have the same one only if they are the same, but for a chance of one in 2^64. */
export function textDigest(text: string): string {
  return digestOf([Float64Array.from(text, (character) => character.codePointAt(0)!)]);
}
