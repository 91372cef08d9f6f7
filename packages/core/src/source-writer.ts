/** Text of generated code, line by line. Names in it are made from numbers only; nothing of a model's text ever gets here. */
export class SourceWriter {
  private readonly lines: string[] = [];
  private depth = 0;

  line(text: string): void {
    this.lines.push('  '.repeat(this.depth) + text);
  }

  /** Writes `head {`, the lines of `body`, `}`; without a head a block of its own. */
  block(head: string, body: () => void): void {
    this.line(`${head} {`.trimStart());
    this.depth++;
    body();
    this.depth--;
    this.line('}');
  }

  /** What `write` writes, without keeping it here. */
  capture(write: () => void): string[] {
    const from = this.lines.length;
    write();
    return this.lines.splice(from);
  }

  append(lines: readonly string[]): void {
    this.lines.push(...lines);
  }

  toString(): string {
    return this.lines.join('\n');
  }
}

/** A number as source, exact to the bit. */
export function literal(value: number): string {
  if (Number.isNaN(value)) return 'NaN';
  if (value === Infinity) return 'Infinity';
  if (value < 0 || Object.is(value, -0)) return `(${Object.is(value, -0) ? '-0' : String(value)})`;
  return String(value);
}
