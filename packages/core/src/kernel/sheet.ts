import type { F64, I32, Local, Statement, Test } from './kernel.ts';
import { ALWAYS, compareWhole, f64, i32, put, set, when, whole } from './kernel.ts';

/** A kernel function while it is written: its statements one after another, and the locals that they need. */
export class Sheet {
  readonly locals = new Map<string, Local>();
  private list: Statement[] = [];

  get statements(): readonly Statement[] {
    return this.list;
  }

  add(...statements: readonly Statement[]): void {
    this.list.push(...statements);
  }

  f64(name = `v${this.locals.size}`): Local<'f64'> {
    const local = f64(name);
    this.locals.set(name, local);
    return local;
  }

  i32(name = `i${this.locals.size}`): Local<'i32'> {
    const local = i32(name);
    this.locals.set(name, local);
    return local;
  }

  use(...locals: readonly Local[]): void {
    for (const local of locals) this.locals.set(local.name, local);
  }

  /** A value in a local of its own, unless it is as good as one. */
  kept(value: F64): F64 {
    if (value.is === 'f64' || value.is === 'local') return value;
    const local = this.f64();
    this.add(set(local, value));
    return local;
  }

  keptWhole(value: I32): I32 {
    if (value.is === 'i32' || value.is === 'local') return value;
    const local = this.i32();
    this.add(put(local, value));
    return local;
  }

  /** What is written meanwhile, on a list of its own. */
  apart<T>(write: () => T): { readonly list: readonly Statement[]; readonly made: T } {
    const before = this.list;
    this.list = [];
    const made = write();
    const { list } = this;
    this.list = before;
    return { list, made };
  }

  /** Writes statements that only happen where something holds. */
  when(test: Test, then: () => void, otherwise: () => void = () => undefined): void {
    if (test === ALWAYS) return then();
    const [first, second] = [this.apart(then).list, this.apart(otherwise).list];
    if (first.length > 0 || second.length > 0) this.add(when(test, first, second));
  }

  /** The value of one of two expressions, of which only that one is computed. */
  choose(test: Test, then: () => F64, otherwise: () => F64): F64 {
    const [first, second] = [this.apart(then), this.apart(otherwise)];
    if (first.list.length === 0 && second.list.length === 0)
      return { is: 'choose', test, then: first.made, else: second.made };
    const local = this.f64();
    this.add(when(test, [...first.list, set(local, first.made)], [...second.list, set(local, second.made)]));
    return local;
  }

  /** Whether both hold, or one of them; the second is only asked where it decides. */
  joined(fn: 'and' | 'or', left: Test, right: () => Test): Test {
    const { list, made } = this.apart(right);
    if (list.length === 0) return { is: fn === 'and' ? 'and then' : 'or else', left, right: made };
    const local = this.i32();
    const asked = [...list, put(local, { is: 'holds', test: made })];
    this.add(
      put(local, { is: 'holds', test: left }),
      when(compareWhole(local, fn === 'and' ? '!=' : '==', whole(0)), asked),
    );
    return compareWhole(local, '!=', whole(0));
  }
}
