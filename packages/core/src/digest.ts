import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** Hexadecimal digits of a digest that are kept: 128 bits. */
const DIGITS = 32;
/** Digits of the digests that bundles of earlier versions have. */
const EARLIER_DIGITS = 16;

/** A checksum over numbers, to the bit: of SHA-256 over their bytes. @param like a checksum to be held against; one of an earlier version is answered in kind */
export function digestOf(columns: readonly Float64Array[], like = ''): string {
  if (like.length === EARLIER_DIGITS) return earlierDigestOf(columns);
  return bytesDigest(columns);
}

/** A name of what some arrays hold, one after another, by their bytes. */
export function bytesDigest(arrays: readonly ArrayBufferView[]): string {
  const hash = sha256.create();
  for (const { buffer, byteOffset, byteLength } of arrays) hash.update(new Uint8Array(buffer, byteOffset, byteLength));
  return bytesToHex(hash.digest()).slice(0, DIGITS);
}

/** What earlier versions wrote: FNV-1a over the bytes, 64 bits in two halves. */
function earlierDigestOf(columns: readonly Float64Array[]): string {
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

/** A name of a text: two texts have the same one only if they are the same. */
export function textDigest(text: string): string {
  return bytesDigest([utf8ToBytes(text)]);
}
