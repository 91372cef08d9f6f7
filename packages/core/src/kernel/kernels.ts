import type { KernelFunction } from './kernel.ts';
import { javascriptOf } from './print-javascript.ts';
import { wasmOf } from './print-wasm.ts';
import { webAssembly } from './web-assembly.ts';

export type KernelEngine = 'WebAssembly' | 'JavaScript';

/** A kernel function that can be called: with its columns, then its numbers. */
export type Kernel = (columns: readonly Float64Array[], ...given: readonly number[]) => number;

type Callable = (...given: readonly unknown[]) => number;

/** Kernel functions, compiled when they are first called. */
export class Kernels {
  private module: object | undefined;
  private inJavaScript: Readonly<Record<string, Callable>> | undefined;

  /** @param wanted the engine they are to run in; JavaScript takes its place where it cannot */
  constructor(
    private readonly functions: readonly KernelFunction[],
    private readonly wanted: KernelEngine = 'WebAssembly',
  ) {}

  /** The functions over columns that lie in a memory, by name, and what they run in. */
  over(memory: { readonly buffer: ArrayBuffer }): {
    readonly engine: KernelEngine;
    readonly byName: Readonly<Record<string, Kernel>>;
  } {
    const instance = this.instance(memory);
    const callables = instance ?? this.compiled();
    const kernels = this.functions.map(({ name }): [string, Kernel] => [
      name,
      (columns, ...given) =>
        callables[name]!(...(instance ? columns.map((one) => addressOf(one, memory)) : columns), ...given),
    ]);
    return { engine: instance ? 'WebAssembly' : 'JavaScript', byName: Object.fromEntries(kernels) };
  }

  private instance(memory: object): Readonly<Record<string, Callable>> | undefined {
    if (this.wanted !== 'WebAssembly' || !webAssembly || !(memory instanceof webAssembly.Memory)) return undefined;
    if (!this.module) {
      const bytes = wasmOf(this.functions);
      // Two numbers at a time are younger than the rest.
      if (!webAssembly.validate(bytes)) return undefined;
      this.module = new webAssembly.Module(bytes);
    }
    return new webAssembly.Instance(this.module, { m: { m: memory } }).exports as Readonly<Record<string, Callable>>;
  }

  private compiled(): Readonly<Record<string, Callable>> {
    const names = this.functions.map(({ name }) => name).join(', ');
    const source = `"use strict";\n${this.functions.map(javascriptOf).join('\n')}\nreturn { ${names} };`;
    return (this.inJavaScript ??= new Function(source)() as Readonly<Record<string, Callable>>);
  }
}

function addressOf({ buffer, byteOffset }: Float64Array, memory: { readonly buffer: ArrayBuffer }): number {
  if (buffer !== memory.buffer) throw new RangeError('A column lies in another memory than its kernel');
  return byteOffset;
}
