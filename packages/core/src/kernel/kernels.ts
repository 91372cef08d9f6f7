import type { RunMemory } from '../engine/memory/run-memory.ts';
import { webAssembly } from '../engine/memory/web-assembly.ts';
import type { Crew } from './crew.ts';
import type { KernelFunction } from './kernel.ts';
import { javascriptOf } from './print-javascript.ts';
import { wasmOf } from './print-wasm.ts';

export type KernelEngine = 'WebAssembly' | 'JavaScript';

export type AnyColumn = Float64Array | Float32Array | Int32Array | Uint8Array;

/** A kernel function for its columns; they lie where they lay when it was made ready for them. */
export type Kernel = (columns: readonly AnyColumn[]) => (...given: readonly number[]) => number;

type Callable = (...given: readonly unknown[]) => number;

/** What kernels call that is not written in their own form, by name. */
export type Called = Readonly<Record<string, unknown>>;

/** A part of what a kernel does: over other columns, or given other numbers. */
export interface KernelPart {
  readonly columns: readonly AnyColumn[];
  readonly given: readonly number[];
}

/** Kernels that are ready for one run. */
export interface ReadyKernels {
  readonly engine: KernelEngine;
  readonly byName: Readonly<Record<string, Kernel>>;
  /** Has a crew do parts of a kernel; absent where no other thread sees the memory. @returns what each part gave */
  readonly together?: (crew: Crew, name: string, parts: readonly KernelPart[]) => readonly number[];
}

/** Kernel functions, compiled when they are first called. */
export class Kernels {
  /** For a memory that threads share, and for another. */
  private readonly modules = new Map<boolean, object>();
  private makeJavaScript: ((called: Called) => Readonly<Record<string, Callable>>) | undefined;

  /** @param wanted the engine they are to run in; JavaScript takes its place where it cannot */
  constructor(
    private readonly functions: readonly KernelFunction[],
    private readonly wanted: KernelEngine = 'WebAssembly',
  ) {}

  /** Whether a run of them is to have its columns in a memory of WebAssembly. */
  get areInWebAssembly(): boolean {
    return this.wanted === 'WebAssembly' && this.functions.length > 0;
  }

  /** The functions over columns that lie in a memory, by name, and what they run in. */
  over(memory: RunMemory, called: Called): ReadyKernels {
    const module = this.moduleFor(memory);
    const imports = { m: { m: memory.shared }, e: called };
    const instance = module && (new webAssembly!.Instance(module, imports).exports as typeof callables);
    const callables: Readonly<Record<string, Callable>> = instance ?? this.inJavaScript(called);
    const kernels = this.functions.map(({ name }): [string, Kernel] => {
      const callable = callables[name]!;
      return [
        name,
        (columns) => {
          const given = instance ? columns.map((one) => addressOf(one, memory)) : columns;
          return callable.bind(undefined, ...given);
        },
      ];
    });
    const byName = Object.fromEntries(kernels);
    if (!module) return { engine: 'JavaScript', byName };
    const over = { module, memory: memory.shared! };
    const together: ReadyKernels['together'] = (crew, name, parts) =>
      crew.together(
        over,
        name,
        parts.map(({ columns, given }) => [...columns.map((one) => addressOf(one, memory)), ...given]),
        (given) => callables[name]!(...given),
      );
    return { engine: 'WebAssembly', byName, together: memory.isForThreads ? together : undefined };
  }

  private moduleFor({ shared, isForThreads }: RunMemory): object | undefined {
    if (this.wanted !== 'WebAssembly' || !webAssembly || !shared) return undefined;
    let module = this.modules.get(isForThreads);
    if (!module) {
      const bytes = wasmOf(this.functions, isForThreads);
      // Two numbers at a time are younger than the rest.
      if (!webAssembly.validate(bytes)) return undefined;
      this.modules.set(isForThreads, (module = new webAssembly.Module(bytes)));
    }
    return module;
  }

  private inJavaScript(called: Called): Readonly<Record<string, Callable>> {
    const names = this.functions.map(({ name }) => name).join(', ');
    const source = `"use strict";\n${this.functions.map(javascriptOf).join('\n')}\nreturn { ${names} };`;
    this.makeJavaScript ??= new Function('E', source) as NonNullable<typeof this.makeJavaScript>;
    return this.makeJavaScript(called);
  }
}

function addressOf({ buffer, byteOffset }: AnyColumn, memory: RunMemory): number {
  if (buffer !== memory.buffer) throw new RangeError('A column lies in another memory than its kernel');
  return byteOffset;
}
