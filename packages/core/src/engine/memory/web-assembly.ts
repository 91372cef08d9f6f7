/** What kernels use of WebAssembly, which every engine of JavaScript has that the application runs on, but core's own types do not know. */
interface WebAssemblyOfEngine {
  validate(bytes: Uint8Array<ArrayBuffer>): boolean;
  readonly Module: {
    new (bytes: Uint8Array<ArrayBuffer>): object;
    imports(module: object): readonly { readonly name: string; readonly kind: string }[];
  };
  readonly Instance: new (module: object, imports: object) => { readonly exports: unknown };
  readonly Memory: new (pages: {
    readonly initial: number;
    readonly maximum?: number;
    readonly shared?: boolean;
  }) => RawMemory;
}

/** A memory of WebAssembly; its buffer is replaced when it grows. */
export interface RawMemory {
  readonly buffer: ArrayBuffer;
  grow(pages: number): number;
}

const PAGE = 65536;
/** Pages that addresses of 32 bits reach. */
export const MOST_PAGES = 65536;

/** Where addresses are scarce, asking for one more memory looks for those that are no longer needed, which takes long: asked once in vain, it is not asked again. */
let isRefused = false;

/** Absent where there is none. */
export const webAssembly: WebAssemblyOfEngine | undefined = (
  globalThis as { readonly WebAssembly?: WebAssemblyOfEngine }
).WebAssembly;

/** Most pages of a memory that threads share, of which all may have to be set aside at once; fewer where that is too much. */
const SHARED_PAGES = [MOST_PAGES, MOST_PAGES / 4] as const;

/** An empty memory; nothing where there is none to be had. @param isShared whether several threads are to see it */
export function newMemory(isShared: boolean): RawMemory | undefined {
  if (!webAssembly || isRefused) return undefined;
  const { Memory } = webAssembly;
  const shared = (maximum: number) => unlessTooMuch(() => new Memory({ initial: 1, maximum, shared: true }));
  const [most, fewer] = SHARED_PAGES;
  const memory = isShared ? (shared(most) ?? shared(fewer)) : unlessTooMuch(() => new Memory({ initial: 1 }));
  isRefused = memory === undefined;
  return memory;
}

/** Whether a memory is large enough for so many bytes, or could grow to that. */
export function reaches(memory: RawMemory, bytes: number): boolean {
  const missing = Math.ceil((bytes - memory.buffer.byteLength) / PAGE);
  return missing <= 0 || unlessTooMuch(() => memory.grow(missing)) !== undefined;
}

function unlessTooMuch<T>(make: () => T): T | undefined {
  try {
    return make();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return undefined;
  }
}
