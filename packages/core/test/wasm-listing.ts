import { OP, PAIR } from '../src/kernel/wasm-bytes.ts';

/** Function bodies of a WebAssembly module as lines that a person can read, one for each instruction (WebAssembly Core Specification 2.0, chapter 5). */
export function listingOf(module: Uint8Array): string {
  const reader = new Reader(module);
  reader.at = 8;
  const names: string[] = [];
  const bodies: string[] = [];
  while (reader.at < module.length) {
    const id = reader.byte();
    const end = reader.unsigned() + reader.at;
    if (id === EXPORTS) for (let left = reader.unsigned(); left > 0; left--) names.push(exportName(reader));
    if (id === CODE) for (let left = reader.unsigned(); left > 0; left--) bodies.push(bodyOf(reader));
    reader.at = end;
  }
  return bodies.map((body, i) => `${names[i]!}\n${body}`).join('\n\n');
}

const [EXPORTS, CODE, PAIRS] = [7, 10, 0xfd];
/** What follows some instructions: numbers, or alignment and offset in memory. */
const UNSIGNED: readonly number[] = [OP.branch, OP.branchIf, OP.call, OP.localGet, OP.localSet, OP.localTee];
const IN_MEMORY: readonly number[] = [OP.f64Load, OP.f64Store, OP.i32Load, OP.i32Store, OP.u8Load, OP.u8Store];
const OPENS: readonly number[] = [OP.block, OP.loop, OP.if];
const NAMES = namesOf(OP);
const PAIR_NAMES = namesOf(PAIR);

function namesOf(codes: Readonly<Record<string, number>>): ReadonlyMap<number, string> {
  return new Map(Object.entries(codes).map(([name, code]) => [code, name]));
}

class Reader {
  at = 0;

  constructor(private readonly bytes: Uint8Array) {}

  byte(): number {
    return this.bytes[this.at++]!;
  }

  unsigned(): number {
    let value = 0;
    for (let shift = 0; ; shift += 7) {
      const part = this.byte();
      value += (part & 0x7f) * 2 ** shift;
      if (part < 0x80) return value;
    }
  }

  signed(): number {
    let value = 0;
    for (let shift = 0; ;) {
      const part = this.byte();
      value |= (part & 0x7f) << shift;
      shift += 7;
      if (part < 0x80) return part & 0x40 && shift < 32 ? value | (-1 << shift) : value;
    }
  }

  f64(): number {
    this.at += 8;
    return new DataView(this.bytes.buffer, this.bytes.byteOffset).getFloat64(this.at - 8, true);
  }
}

function exportName(reader: Reader): string {
  const name = Array.from({ length: reader.unsigned() }, () => String.fromCharCode(reader.byte())).join('');
  reader.byte();
  reader.unsigned();
  return name;
}

function bodyOf(reader: Reader): string {
  const end = reader.unsigned() + reader.at;
  for (let left = reader.unsigned(); left > 0; left--) {
    reader.unsigned();
    reader.byte();
  }
  const lines: string[] = [];
  let depth = 1;
  while (reader.at < end) {
    const op = reader.byte();
    if (op === OP.end || op === OP.else) depth--;
    lines.push(`${'  '.repeat(Math.max(depth, 0))}${instruction(op, reader)}`);
    if (op === OP.else || OPENS.includes(op)) depth++;
  }
  return lines.join('\n');
}

function instruction(op: number, reader: Reader): string {
  if (op === PAIRS) {
    const pair = reader.unsigned();
    const name = `pair ${PAIR_NAMES.get(pair) ?? `unknown ${pair}`}`;
    if (pair === PAIR.load || pair === PAIR.store) return `${name} ${reader.unsigned()} ${reader.unsigned()}`;
    return pair === PAIR.firstLane || pair === PAIR.firstWord ? `${name} ${reader.byte()}` : name;
  }
  const name = NAMES.get(op) ?? `unknown ${op}`;
  if (UNSIGNED.includes(op)) return `${name} ${reader.unsigned()}`;
  if (IN_MEMORY.includes(op)) return `${name} ${reader.unsigned()} ${reader.unsigned()}`;
  if (op === OP.i32Const) return `${name} ${reader.signed()}`;
  if (op === OP.f64Const) return `${name} ${reader.f64()}`;
  if (OPENS.includes(op)) reader.byte();
  return name;
}
