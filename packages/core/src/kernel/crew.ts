/** Several threads that do parts of one kernel over one memory: each takes the next part until none is left, so that one that is late only leaves more to the others. */

/** A kernel's module and the memory of the run that it is for. */
export interface OverMemory {
  readonly module: object;
  readonly memory: object;
}

/** Threads that help the one which owns a run. */
export interface Crew {
  /** How many of them are ready. */
  readonly helpers: number;
  /** Has them come, if they have not been called yet; they are ready later. */
  call(): void;
  /** So many agents, or cells, a rule or field must have for help to be asked for. */
  readonly least: number;
  /**
   * Does parts of a kernel, together with the thread that calls.
   * @param parts what the kernel is given for each
   * @param call does one here
   * @returns what each part gave
   */
  together(
    over: OverMemory,
    name: string,
    parts: readonly (readonly number[])[],
    call: (given: readonly number[]) => number,
  ): readonly number[];
}

/** What helpers are told: first the numbers that all threads share, then what to do. */
export type CrewMessage =
  | { readonly is: 'begin'; readonly shared: Int32Array }
  | {
      readonly is: 'work';
      readonly job: number;
      readonly name: string;
      readonly parts: readonly (readonly number[])[];
      /** Absent where it is that of the job before. */
      readonly over?: OverMemory;
    };

/** A thread as those see it who ask for help. */
export interface Helper {
  postMessage(message: CrewMessage): void;
}

/** What more threads would gain is lost in memory that all of them wait for. */
const MOST_HELPERS = 3;
const MOST_PARTS = 64;
/** More than one for each thread, so that a quick one can help a slow one out. */
const PARTS_A_THREAD = 8;

/** Jobs are numbered from 0 up to below this, again and again. */
const JOBS = 16_777_216;
/** Where in the shared numbers it stands how many helpers are ready, which part of which job is next, how many parts are done, and what each gave. */
const [READY, NEXT, DONE, GIVEN] = [0, 1, 2, 3];
/** Below this what is gained is not worth the asking. */
const LEAST = 50_000;

/** From where up to below where each part goes, of so many places: at multiples of 16. */
export function partsOf({ helpers }: Crew, many: number): readonly (readonly [number, number])[] {
  const count = Math.min(MOST_PARTS, PARTS_A_THREAD * (helpers + 1));
  const size = Math.max(1, Math.ceil(many / count / 16)) * 16;
  const parts: [number, number][] = [];
  for (let from = 0; from < many; from += size) parts.push([from, Math.min(many, from + size)]);
  return parts;
}

/** How many threads are to help each of some runs that go on at a time, on so many cores. */
export function helpersFor(cores: number, runs: number): number {
  return Math.max(0, Math.min(MOST_HELPERS, Math.floor(cores / runs) - 1));
}

/** Takes parts of a job until none is left. */
function takeParts(shared: Int32Array, job: number, many: number, call: (part: number) => number): void {
  for (;;) {
    const next = Atomics.load(shared, NEXT);
    const part = next - job * MOST_PARTS;
    if (part < 0 || part >= many) return;
    if (Atomics.compareExchange(shared, NEXT, next, next + 1) !== next) continue;
    Atomics.store(shared, GIVEN + part, call(part));
    Atomics.add(shared, DONE, 1);
    Atomics.notify(shared, DONE);
  }
}

/** A crew of threads that were started by whoever knows how. The thread that asks for help waits for it, which that of a page must not. */
export class HelpingCrew implements Crew {
  private readonly shared = new Int32Array(new SharedArrayBuffer(4 * (GIVEN + MOST_PARTS)));
  private job = 0;
  private told: OverMemory | undefined;
  private threads: readonly Helper[] | undefined;

  /** @param start starts the threads, as many as there are to be */
  constructor(
    private readonly start: () => readonly Helper[],
    readonly least = LEAST,
  ) {}

  call(): void {
    if (this.threads) return;
    // Without help a run comes to the same end.
    this.threads = unlessRefused(this.start) ?? [];
    for (const thread of this.threads) thread.postMessage({ is: 'begin', shared: this.shared });
  }

  /** Nobody helps any more. */
  private dismiss(): void {
    this.threads = [];
    Atomics.store(this.shared, READY, 0);
  }

  get helpers(): number {
    return Atomics.load(this.shared, READY);
  }

  together(
    over: OverMemory,
    name: string,
    parts: readonly (readonly number[])[],
    call: (given: readonly number[]) => number,
  ): readonly number[] {
    const { shared, threads = [] } = this;
    if (parts.length > MOST_PARTS) throw new RangeError(`More than ${MOST_PARTS} parts`);
    const job = (this.job = (this.job + 1) % JOBS);
    Atomics.store(shared, DONE, 0);
    Atomics.store(shared, NEXT, job * MOST_PARTS);
    const isNew = this.told?.memory !== over.memory || this.told.module !== over.module;
    for (const thread of threads)
      thread.postMessage({ is: 'work', job, name, parts, over: isNew ? { ...over } : undefined });
    this.told = over;
    takeParts(shared, job, parts.length, (part) => call(parts[part]!));
    // A part takes as long as it takes: nobody can tell how much agents have to look at.
    for (let done = 0; done < parts.length; done = Atomics.load(shared, DONE)) Atomics.wait(shared, DONE, done);
    const given = parts.map((_, part) => Atomics.load(shared, GIVEN + part));
    if (!given.includes(BROKEN)) return given;
    this.dismiss();
    throw new Error(`A helping thread could not do its part of ${name}`);
  }
}

function unlessRefused<T>(start: () => T): T | undefined {
  try {
    return start();
  } catch {
    return undefined;
  }
}

/** What a part gives whose thread could not do it: nobody must wait for that. */
const BROKEN = -2;

function unlessBroken(call: () => number): number {
  try {
    return call();
  } catch {
    return BROKEN;
  }
}

/** What a helping thread does with the messages it is sent. @param instanceOf the functions of a module over a memory, by name */
export function helping(
  instanceOf: (over: OverMemory) => Readonly<Record<string, (...given: readonly number[]) => number>>,
): (message: CrewMessage) => void {
  let shared: Int32Array | undefined;
  let over: OverMemory | undefined;
  let functions: ReturnType<typeof instanceOf> | undefined;
  return (message) => {
    if (message.is === 'begin') {
      ({ shared } = message);
      Atomics.add(shared, READY, 1);
      return;
    }
    if (message.over) {
      ({ over } = message);
      functions = undefined;
    }
    const { job, name, parts } = message;
    const call = (part: number): number => (functions ??= instanceOf(over!))[name]!(...parts[part]!);
    if (shared) takeParts(shared, job, parts.length, (part) => unlessBroken(() => call(part)));
  };
}
