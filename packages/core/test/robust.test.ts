import { describe, expect, it } from 'vitest';
import { applyEdits } from '../src/diagnostics.ts';
import { formatModel, loadModel, withSoundRepairs } from '../src/index.ts';
import { checkModel, unforeseen } from '../src/language/checker.ts';
import { EXAMPLE_MAPS } from './example-maps.ts';
import { TEXTS, Typist } from './typist.ts';

/** Whatever is typed: the checker answers with findings that lie in the text, repairs that can be applied, and never with a crash. */

describe('what was not foreseen', () => {
  const text = 'model M\nmeasure m = 1\n';
  it('is a finding at its place, not an error of the program', () => {
    class Broken extends Map<string, string> {
      override [Symbol.iterator](): never {
        throw new TypeError('no such thing');
      }
    }
    const { loaded, diagnostics, check } = loadModel(text, new Broken());
    expect(loaded).toBeUndefined();
    expect(diagnostics.map((d) => [d.code, d.message])).toEqual([
      ['internal/unforeseen', 'This is our mistake, not yours: something here was not foreseen (no such thing).'],
    ]);
    expect(diagnostics[0]!.hint).toContain('Your text is kept');
    expect(check.tree.parts).toHaveLength(2);
  });
  it('says that it goes too deep where the stack is used up', () => {
    const at = { start: 8, end: 15 };
    expect(unforeseen(new RangeError('Maximum call stack size exceeded'), { at })).toMatchObject({
      code: 'text/too-deep',
      span: at,
    });
  });
});

describe('a text with slips of the hand', () => {
  it('is answered with findings that lie in it and say something, in 700 cases', () => {
    let wrong = 0;
    for (let seed = 1; seed <= 700; seed++) {
      const typist = new Typist(seed);
      const text = typist.slip(TEXTS[seed % TEXTS.length]!);
      const { diagnostics } = checkModel(text, EXAMPLE_MAPS);
      for (const { span, message, code, fixes } of diagnostics) {
        expect(span.start >= 0 && span.start <= span.end && span.end <= text.length, `${code} of ${seed}`).toBe(true);
        expect(message.length, `${code} of ${seed}`).toBeGreaterThan(12);
        expect(`${message} ${code}`, `of ${seed}`).not.toMatch(/undefined|NaN|\[object/);
        for (const { label, edits } of fixes ?? []) {
          expect(label.length).toBeGreaterThan(3);
          for (const edit of edits)
            expect(edit.span.start >= 0 && edit.span.end <= text.length, `${code} of ${seed}`).toBe(true);
        }
      }
      if (diagnostics.some((d) => d.severity === 'error')) wrong++;
    }
    // Most slips are mistakes; if hardly any were, the typist would be asleep.
    expect(wrong).toBeGreaterThan(350);
  });

  it('is loaded without a crash, right or wrong, and put into the usual layout without one', () => {
    for (let seed = 1; seed <= 250; seed++) {
      const text = new Typist(seed + 5000).slip(TEXTS[seed % TEXTS.length]!);
      const { loaded, diagnostics } = loadModel(text, EXAMPLE_MAPS);
      expect(loaded === undefined).toBe(diagnostics.some((d) => d.severity === 'error'));
      const formatted = formatModel(text);
      if (loaded) expect(loadModel(formatted, EXAMPLE_MAPS).loaded, `layout of ${seed}`).toBeDefined();
    }
  });

  it('has repairs of which none makes it worse, and most of those thought of are offered', () => {
    let offered = 0;
    let thoughtOf = 0;
    const worse: string[] = [];
    for (let seed = 1; seed <= 500; seed++) {
      const text = new Typist(seed + 3000).slip(TEXTS[seed % TEXTS.length]!, 1);
      const found = checkModel(text, EXAMPLE_MAPS).diagnostics;
      thoughtOf += found.reduce((sum, { fixes }) => sum + (fixes?.length ?? 0), 0);
      const diagnostics = withSoundRepairs(text, found, EXAMPLE_MAPS);
      const errors = diagnostics.filter((d) => d.severity === 'error').length;
      for (const { code, fixes } of diagnostics) {
        for (const { label, edits } of fixes ?? []) {
          offered++;
          if (
            checkModel(applyEdits(text, edits), EXAMPLE_MAPS).diagnostics.filter((d) => d.severity === 'error').length >
            errors
          )
            worse.push(`${code} ${label}, seed ${seed}`);
        }
      }
    }
    expect(offered).toBeGreaterThan(200);
    expect(worse).toEqual([]);
    expect(offered / thoughtOf).toBeGreaterThan(0.9);
  });

  it('has repairs that lead on: applied one after another they end, and do no harm', () => {
    let mended = 0;
    let offered = 0;
    for (let seed = 1; seed <= 250; seed++) {
      let text = new Typist(seed + 9000).slip(TEXTS[seed % TEXTS.length]!);
      const errorsOf = (): readonly {
        readonly code: string;
        readonly fixes?: readonly {
          readonly edits: readonly {
            readonly span: { readonly start: number; readonly end: number };
            readonly text: string;
          }[];
        }[];
      }[] => checkModel(text, EXAMPLE_MAPS).diagnostics.filter((d) => d.severity === 'error');
      const before = errorsOf().length;
      if (before === 0 || !errorsOf().some((d) => d.fixes?.length)) continue;
      offered++;
      for (let i = 0; i < 8; i++) {
        const next = errorsOf().find((d) => d.fixes?.length);
        if (!next) break;
        text = applyEdits(text, next.fixes![0]!.edits);
      }
      expect(text.length).toBeGreaterThan(0);
      if (errorsOf().length < before) mended++;
    }
    expect(offered).toBeGreaterThan(40);
    expect(mended / offered).toBeGreaterThan(0.6);
  });
});
