import { strFromU8, strToU8 } from 'fflate';
import * as z from 'zod/mini';
import type { Diagnostic } from '../../diagnostics.ts';
import type { ResultBlock } from './block.ts';

/** A block as bytes: "VOLE", version and length of the head as 32-bit numbers, the head as JSON, then the columns, each at a multiple of 8 bytes; little-endian throughout. */

const MAGIC = 0x454c4f56;
const VERSION = 1;
const PREFIX = 12;

const COLUMNS = ['seed', 'steps', 'refused', 'rows', 'summaries', 'point', 'firstNumber'] as const;
const WHOLE_COLUMNS: readonly string[] = ['point', 'firstNumber'];

const HeadSchema = z.object({
  /** Digest of the text of the model. */
  model: z.string(),
  points: z.array(z.string()),
  every: z.int().check(z.positive()),
  summaryCount: z.int().check(z.nonnegative()),
  failures: z.record(
    z.string(),
    z.custom<Diagnostic>((value) => typeof value === 'object' && value !== null),
  ),
  lengths: z.array(z.int().check(z.nonnegative())).check(z.length(COLUMNS.length)),
});

const padded = (bytes: number): number => (bytes + 7) & ~7;

/**
 * A block as bytes, to be stored or sent.
 * @param model digest of the text that the runs are of
 */
export function encodeBlock(block: ResultBlock, model: string): ArrayBuffer {
  const { points, every, summaryCount, failures } = block;
  const columns = COLUMNS.map((name) => block[name]);
  const head = strToU8(
    JSON.stringify({ model, points, every, summaryCount, failures, lengths: columns.map(({ length }) => length) }),
  );
  const start = padded(PREFIX + head.length);
  const bytes = new ArrayBuffer(start + columns.reduce((sum, column) => sum + padded(column.byteLength), 0));
  new Uint32Array(bytes, 0, 3).set([MAGIC, VERSION, head.length]);
  new Uint8Array(bytes, PREFIX).set(head);
  let at = start;
  for (const column of columns) {
    new Uint8Array(bytes, at).set(new Uint8Array(column.buffer, column.byteOffset, column.byteLength));
    at += padded(column.byteLength);
  }
  return bytes;
}

/** Bytes that are no block of results; the message says what is wrong with them. */
export class BlockError extends Error {}

/**
 * Reads a block; its columns are views of the bytes.
 * @throws BlockError if the bytes are no block, of a later version, or cut off
 */
export function decodeBlock(bytes: ArrayBuffer): { readonly block: ResultBlock; readonly model: string } {
  const [magic, version, length] = bytes.byteLength < PREFIX ? [] : new Uint32Array(bytes, 0, 3);
  if (magic !== MAGIC) throw new BlockError('These bytes are no results of a study.');
  if (version !== VERSION)
    throw new BlockError(`These results are of version ${version}; this program reads version ${VERSION}.`);
  const { model, lengths, ...head } = readHead(bytes, length!);
  let at = padded(PREFIX + length!);
  const columns = COLUMNS.map((name, i) => {
    const make = WHOLE_COLUMNS.includes(name) ? Uint32Array : Float64Array;
    const start = at;
    at += padded(lengths[i]! * make.BYTES_PER_ELEMENT);
    if (at > bytes.byteLength) throw new BlockError('These results are cut off.');
    return [name, new make(bytes, start, lengths[i])] as const;
  });
  return { block: { ...head, ...(Object.fromEntries(columns) as Pick<ResultBlock, (typeof COLUMNS)[number]>) }, model };
}

function readHead(bytes: ArrayBuffer, length: number): z.infer<typeof HeadSchema> {
  try {
    return HeadSchema.parse(JSON.parse(strFromU8(new Uint8Array(bytes, PREFIX, length))));
  } catch {
    throw new BlockError('The head of these results cannot be read; they are damaged.');
  }
}

/** Blocks one after another in one file, each after its length as a 32-bit number, little-endian. */
export function joinBlocks(blocks: readonly Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(blocks.reduce((sum, block) => sum + 4 + block.length, 0));
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (const block of blocks) {
    view.setUint32(at, block.length, true);
    bytes.set(block, at + 4);
    at += 4 + block.length;
  }
  return bytes;
}

/**
 * The blocks of such a file, as copies.
 * @returns also where they end: what stands behind was cut off while it was written
 */
export function splitBlocks(bytes: Uint8Array): { readonly blocks: readonly ArrayBuffer[]; readonly end: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const blocks: ArrayBuffer[] = [];
  let at = 0;
  while (at + 4 <= bytes.length) {
    const next = at + 4 + view.getUint32(at, true);
    if (next > bytes.length) break;
    blocks.push(new Uint8Array(bytes.subarray(at + 4, next)).buffer);
    at = next;
  }
  return { blocks, end: at };
}
