import { readFileSync } from 'node:fs';
import { PART_WORDS } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { EXAMPLES } from '../projects/examples.ts';
import { NEW_MODEL } from '../storage/new-model.ts';
import { colouredPieces } from './model-language.ts';

const REFERENCE = readFileSync(new URL('../../../../docs/language.md', import.meta.url), 'utf8');
const texts = [
  NEW_MODEL,
  ...EXAMPLES.map(({ text }) => text),
  ...[...REFERENCE.matchAll(/```vole\n([\s\S]*?)```/g)].map((match) => match[1]!),
];
const coloured = (text: string): string[] =>
  colouredPieces(text).map(({ from, to, name }) => `${name.replace('vole-', '')} ${text.slice(from, to)}`);

describe('colours of the model text', () => {
  it('mark names and words of scenarios and studies, and leave what they say', () => {
    expect(
      coloured('study Bites\n  note Why = 3?\n  vary bite 1, 2\n  5 seeds each\nscenario Dry\n  bite = 2\n'),
    ).toEqual([
      'part study',
      'name Bites',
      'prose note Why = 3?',
      'word vary',
      'number 5',
      'part scenario',
      'name Dry',
      'word bite',
    ]);
  });

  it('mark parts, names where they are declared, words, numbers, prose and remarks', () => {
    expect(
      coloured(
        'model Small\n  Some prose.\nnetwork Kin ties Vole to Vole: none  # why\nagent Vole\n  has age = 3 days "so old"\n  behaviour go\n    tie to nearest Vole by Kin\n',
      ),
    ).toEqual([
      'part model',
      'prose Small',
      'prose Some prose.',
      'part network',
      'name Kin',
      'word ties',
      'word to',
      'word none',
      'comment # why',
      'part agent',
      'name Vole',
      'word has',
      'name age',
      'number 3',
      'string "so old"',
      'word behaviour',
      'name go',
      'word tie',
      'word to',
      'word nearest',
      'word by',
    ]);
  });

  it('cover every part and every statement of the examples and of the reference', () => {
    for (const text of texts) {
      const pieces = new Map(colouredPieces(text).map(({ from, name }) => [from, name]));
      for (const match of text.matchAll(/^([a-z]+)\b/gm))
        if (PART_WORDS.has(match[1]!)) expect([match[1], pieces.get(match.index)]).toEqual([match[1], 'vole-part']);
      for (const match of text.matchAll(
        /^ +(turn|move|let|if|else|with|for|create|remove|send|tie|untie|join|add|repeat|until|start|has|states|behaviour|enter|leave|after|rate|chance|when|within|where)\b(?! *[=+\-*/])/gm,
      )) {
        const at = match.index + match[0].length - match[1]!.length;
        const name =
          pieces.get(at) ?? [...pieces].find(([from]) => from < at && text.slice(from, at).indexOf('\n') < 0)?.[1];
        expect([match[0], name !== undefined]).toEqual([match[0], true]);
      }
    }
  });

  it('never overlap, and lie in the text', () => {
    for (const text of [...texts, 'model "open\n\t\tagent § ??\n  has = = 3 m m\n', '']) {
      let end = 0;
      for (const piece of colouredPieces(text)) {
        expect(piece.from).toBeGreaterThanOrEqual(end);
        expect(piece.to).toBeGreaterThan(piece.from);
        end = piece.to;
      }
      expect(end).toBeLessThanOrEqual(text.length);
    }
  });
});
