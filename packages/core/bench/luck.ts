import { writeSync } from 'node:fs';
import { keyOfName, RandomStream } from '../src/engine/random/stream.ts';

/**
 * Writes an endless stream of 32-bit words for a battery of tests, drawn as runs draw them: the first words of many keyed streams,
 * one key counting up while the others stay. Argument: `agents`, `steps`, `seeds`, `rules`, `within` (one stream going on) or `mixed`.
 */

const RULES = Array.from({ length: 64 }, (_, i) => keyOfName(`rule Vole.behaviour${i}`));
const [layout = 'mixed', perStream = '2'] = process.argv.slice(2);

function keysAt(i: number): [seed: number, step: number, rule: number, agent: number] {
  switch (layout) {
    case 'agents':
      return [1, 1, RULES[0]!, i];
    case 'steps':
      return [1, i, RULES[0]!, 1];
    case 'seeds':
      return [i, 1, RULES[0]!, 1];
    case 'rules':
      return [1, 1, i, 1];
    case 'within':
      return [1 + Math.floor(i / 1e9), 1, RULES[0]!, 1];
    default:
      return [1 + (i % 7), Math.floor(i / 448) + 1, RULES[Math.floor(i / 7) % 64]!, 1 + (i % 13)];
  }
}

const WORDS = layout === 'within' ? 1e9 : Number(perStream);
const buffer = new Uint32Array(1 << 16);
let at = 0;
for (let i = 0; ; i++) {
  const stream = RandomStream.of(...keysAt(i));
  for (let w = 0; w < WORDS; w++) {
    buffer[at++] = stream.word();
    if (at < buffer.length) continue;
    at = 0;
    for (let bytes = Buffer.from(buffer.buffer); bytes.length > 0;) {
      try {
        bytes = bytes.subarray(writeSync(1, bytes));
      } catch (error) {
        const { code } = error as NodeJS.ErrnoException;
        if (code === 'EPIPE') process.exit(0);
        if (code !== 'EAGAIN') throw error;
      }
    }
  }
}
