import type { RunMemory } from '../engine/memory/run-memory.ts';
import { webAssembly } from '../engine/memory/web-assembly.ts';
import type { KernelFunction } from './kernel.ts';
import { javascriptOf } from './print-javascript.ts';
import { wasmOf } from './print-wasm.ts';

export type KernelEngine = 'WebAssembly' | 'JavaScript';

type AnyColumn = Float64Array | Int32Array | Uint8Array;

/** A kernel function for its columns; they lie where they lay when it was made ready for them. */
export type Kernel = (columns: readonly AnyColumn[]) => (...given: readonly number[]) => number;

type Callable = (...given: readonly unknown[]) => number;

/** What kernels call that is not written in their own form, by name. */
export type Called = Readonly<Record<string, unknown>>;

/** Kernels that are ready for one run. */
export interface ReadyKernels {
  readonly engine: KernelEngine;
  readonly byName: Readonly<Record<string, Kernel>>;
}

/** Kernel functions, compiled when they are first called. */
export class Kernels {
  private module: object | undefined;
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
    const instance = this.instance(memory, called);
    const callables = instance ?? this.inJavaScript(called);
    const kernels = this.functions.map(({ name }): [string, Kernel] => {
      const callable = callables[name]!;
      return [
        name,
        (columns) => {
          const given = instance ? columns.map((one) => addressOf(one, memory)) : columns;
          return (...numbers) => callable(...given, ...numbers);
        },
      ];
    });
    return { engine: instance ? 'WebAssembly' : 'JavaScript', byName: Object.fromEntries(kernels) };
  }

  private instance({ shared }: RunMemory, called: Called): Readonly<Record<string, Callable>> | undefined {
    if (this.wanted !== 'WebAssembly' || !webAssembly || !shared) return undefined;
    if (!this.module) {
      const bytes = wasmOf(this.functions);
      // Two numbers at a time are younger than the rest.
      if (!webAssembly.validate(bytes)) return undefined;
      this.module = new webAssembly.Module(bytes);
    }
    return new webAssembly.Instance(this.module, { m: { m: shared }, e: called }).exports as Readonly<
      Record<string, Callable>
    >;
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
