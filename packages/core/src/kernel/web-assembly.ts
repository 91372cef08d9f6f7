/** What kernels use of WebAssembly, which every engine of JavaScript has that the application runs on, but core's own types do not know. */
interface WebAssemblyOfEngine {
  validate(bytes: Uint8Array<ArrayBuffer>): boolean;
  readonly Module: new (bytes: Uint8Array<ArrayBuffer>) => object;
  readonly Instance: new (module: object, imports: object) => { readonly exports: unknown };
  readonly Memory: new (pages: { readonly initial: number }) => { readonly buffer: ArrayBuffer };
}

const PAGE = 65536;

/** Where addresses are scarce, asking for one more memory looks for those that are no longer needed, which takes long: asked once in vain, it is not asked again. */
let isRefused = false;

/** Absent where there is none. */
export const webAssembly: WebAssemblyOfEngine | undefined = (
  globalThis as { readonly WebAssembly?: WebAssemblyOfEngine }
).WebAssembly;

/** Memory of at least so many bytes, all zero; of WebAssembly, where it has so much. @throws RangeError where there is not so much at all */
export function memoryOf(bytes: number): { readonly buffer: ArrayBuffer } {
  try {
    if (webAssembly && !isRefused) return new webAssembly.Memory({ initial: Math.max(1, Math.ceil(bytes / PAGE)) });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    isRefused = true;
  }
  return { buffer: new ArrayBuffer(bytes) };
}
