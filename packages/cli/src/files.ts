import type { Stats } from 'node:fs';
import {
  chmodSync,
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { UsageError } from './usage-error.ts';
import { codeOf, whyNot } from './why-not.ts';

/** Reading and writing of files: nothing is half read or half written, and no input is ever written over. */

function statOf(path: string): Stats | undefined {
  try {
    return statSync(path);
  } catch {
    return undefined;
  }
}

/**
 * Makes a folder, and those around it, where they are not there.
 * @throws UsageError
 */
export function makeFolder(path: string): void {
  try {
    mkdirSync(path, { recursive: true });
  } catch (error) {
    throw new UsageError(`the folder ${path} cannot be made (${whyNot(error)})`);
  }
}

/** What a file holds. */
export function readBytes(path: string): Buffer {
  const found = statOf(path);
  if (!found) throw new UsageError(`there is no file ${path}`);
  // A pipe that nobody writes to would be waited for without end.
  if (!found.isFile()) throw new UsageError(`${path} is no regular file`);
  try {
    return readFileSync(path);
  } catch (error) {
    throw new UsageError(`${path} cannot be read (${whyNot(error)})`);
  }
}

/** The text of a file in UTF-8. */
export function readText(path: string): string {
  if (statOf(path)?.isDirectory()) throw new UsageError(`${path} is a folder; name a .vole file`);
  const bytes = readBytes(path);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new UsageError(
      `${path} is no text in UTF-8; save it in UTF-8 (most editors offer this under “encoding”). It was not changed`,
    );
  }
}

/** Files that are being written; what is left of them when the program ends, however it ends, is removed. */
const unfinished = new Set<string>();
process.on('exit', () => {
  for (const path of unfinished) rmSync(path, { force: true });
});
for (const [signal, code] of [
  ['SIGINT', 130],
  ['SIGTERM', 143],
  ['SIGHUP', 129],
] as const)
  process.on(signal, () => (interrupted ? interrupted() : process.exit(code)));

/** What a signal to end does instead of ending at once, while there is work whose finished part is to be kept. */
let interrupted: (() => void) | undefined;

/** Does some work; a signal to end calls `stop` once, a second one ends the program at once. */
export async function interruptibly<T>(stop: () => void, work: () => Promise<T>): Promise<T> {
  interrupted = () => {
    interrupted = undefined;
    stop();
  };
  try {
    return await work();
  } finally {
    interrupted = undefined;
  }
}

export interface WriteRules {
  /** Files that belong to the model; they are never written over. */
  readonly inputs: readonly string[];
  /** Whether another file that is there may be replaced. */
  readonly force: boolean;
}

/** A file that appears only when it is complete, or standard output. */
export class Output {
  private handle: number;
  /** Where it is written until it is complete; absent for standard output and devices. */
  private readonly aside: string | undefined;
  private readonly target: string | undefined;
  private pending: string[] = [];

  constructor(
    private readonly path: string | undefined,
    rules: WriteRules,
  ) {
    if (path === undefined) {
      this.handle = 1;
      return;
    }
    const found = statOf(path);
    refuse(path, found, rules);
    this.target = found ? realpathSync(path) : path;
    const isDevice = found !== undefined && !found.isFile();
    this.aside = isDevice ? undefined : join(dirname(this.target), `.${basename(this.target)}.${process.pid}.part`);
    try {
      this.handle = openSync(this.aside ?? this.target, isDevice ? 'w' : 'wx');
    } catch (error) {
      throw new UsageError(`${path} cannot be written (${whyNot(error)})`);
    }
    if (!this.aside) return;
    unfinished.add(this.aside);
    if (found) chmodSync(this.aside, found.mode);
  }

  line(text: string): void {
    this.pending.push(text);
    if (this.pending.length >= 4096) this.flush();
  }

  private flush(): void {
    if (this.pending.length === 0) return;
    this.write(`${this.pending.join('\n')}\n`);
    this.pending = [];
  }

  write(content: string | Uint8Array): void {
    let bytes = typeof content === 'string' ? Buffer.from(content) : Buffer.from(content);
    while (bytes.length > 0) {
      try {
        bytes = bytes.subarray(writeSync(this.handle, bytes));
      } catch (error) {
        const code = codeOf(error);
        // Whoever reads has enough.
        if (code === 'EPIPE') process.exit(0);
        if (code !== 'EAGAIN') throw this.failure(error);
      }
    }
  }

  private failure(error: unknown): UsageError {
    this.abandon();
    const what = whyNot(error);
    return new UsageError(
      this.path === undefined
        ? `standard output cannot be written (${what})`
        : `${this.path} cannot be written (${what}); what was there before is as it was`,
    );
  }

  finish(): void {
    this.flush();
    if (this.target === undefined) return;
    try {
      if (this.aside) fsyncSync(this.handle);
      closeSync(this.handle);
      if (this.aside) renameSync(this.aside, this.target);
    } catch (error) {
      throw this.failure(error);
    }
    if (this.aside) unfinished.delete(this.aside);
  }

  abandon(): void {
    this.pending = [];
    if (this.aside === undefined) return;
    try {
      closeSync(this.handle);
    } catch {
      // It is closed already.
    }
    rmSync(this.aside, { force: true });
    unfinished.delete(this.aside);
  }
}

function refuse(path: string, found: Stats | undefined, { inputs, force }: WriteRules): void {
  if (!found) return;
  if (found.isDirectory()) throw new UsageError(`${path} is a folder; name a file to write`);
  const isInput = inputs.some((input) => {
    const other = statOf(input);
    return other !== undefined && other.dev === found.dev && other.ino === found.ino;
  });
  if (isInput) throw new UsageError(`${path} belongs to the model and is not written over; name another file`);
  if (found.isFile() && !force)
    throw new UsageError(`${path} is there already; name another file, or say --force to replace it`);
}

/** Puts another text in the place of a file, whole or not at all. */
export function replaceText(path: string, text: string): void {
  const output = new Output(path, { inputs: [], force: true });
  output.write(text);
  output.finish();
}
