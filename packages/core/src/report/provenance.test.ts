import { describe, expect, it } from 'vitest';
import { loadModel } from '../load.ts';
import type { ReportedStudy } from './provenance.ts';
import { provenanceOf } from './provenance.ts';

const TEXT = `model Pen
parameter strike = 0.3, from 0 to 1
parameter bite = 2 m, from 0 to 9
space S: plane 10 m by 10 m, wrapping
agent Vole
  start 3 anywhere
measure n = count Vole
`;
const { plan } = loadModel(TEXT).loaded!;
const study = (more: Partial<ReportedStudy>): ReportedStudy => ({
  id: 's',
  name: 'S',
  kind: 'vary',
  text: TEXT,
  seeds: [1, 2, 3],
  factors: [],
  parameters: { strike: 0.3, bite: 2 },
  every: 1,
  ...more,
});
const said = (more: Partial<ReportedStudy>, text = TEXT, files = {}) => {
  const { words, lines, stale } = provenanceOf(study(more), plan, { text, files });
  return { words: words.replace(/text [0-9a-f]{8}/, 'text T'), values: lines[1], stale };
};

describe('what results are of', () => {
  it('says that the values are those of the text only where all runs have them', () => {
    expect(said({ kind: 'repeat' }).words).toMatch(/^text T, values of the text, seeds 1 to 3, engine version \d+ of/);
    expect(said({ factors: [{ parameter: 'strike', values: [0.1, 0.2] }] })).toMatchObject({
      words: expect.stringMatching(/^text T, strike varied, else values of the text, seeds 1 to 3/) as string,
      values: 'values: those of the text, but strike varied',
    });
    expect(said({ factors: [{ parameter: 'strike', values: [0.1] }], parameters: { bite: 4 } })).toMatchObject({
      words: expect.stringMatching(/^text T, bite 4 m, strike varied, seeds/) as string,
      values: 'values: those of the text, but bite 4 m, strike varied',
    });
    expect(said({ kind: 'match', factors: [{ parameter: 'bite', values: [] }], seeds: [7] }).words).toMatch(
      /^text T, bite sought, else values of the text, runs drawn by seed 7/,
    );
  });

  it('counts many parameters, and says that the text has moved on', () => {
    const factors = Array.from({ length: 6 }, (_, i) => ({ parameter: `p${i}`, values: [1, 2] }));
    expect(said({ factors }).words).toContain('6 parameters varied, else');
    expect(said({}, `${TEXT}# more\n`).stale).toBe('the text has changed since');
    expect(said({}).stale).toBeUndefined();
  });

  it('names the files beside the text, and says which have moved on', () => {
    const files = { 'a.osm': '0123456789abcdef', 'constructor.csv': 'fedcba9876543210' };
    expect(said({ files }, TEXT, files)).toMatchObject({
      words: expect.stringMatching(/^text T, a\.osm 01234567, constructor\.csv fedcba98, values of the text/) as string,
      stale: undefined,
    });
    expect(said({ files }, TEXT, { ...files, 'a.osm': 'ff', 'more.csv': '12' }).stale).toBe(
      '“a.osm” has changed since',
    );
    expect(said({ files }, `${TEXT}# more\n`).stale).toBe(
      'the text has changed since; “a.osm”, “constructor.csv” have changed since',
    );
  });
});
