import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../diagnostics.ts';
import { formatModel } from '../../language/format.ts';
import { Names } from '../../language/rename.ts';
import { loadModel } from '../../load.ts';
import { pointAt, pointCount } from '../design/design.ts';
import { findingsInStudies, scenariosInText, studiesInText, withoutStudies, withStudy } from './in-model.ts';
import { readStudy } from './read-study.ts';

const MODEL = `model Bank
clock
  step 1 day
  end after 60 days
parameter bite = 0.2, from 0 to 1
parameter kestrels = 2, whole from 0 to 12
agent Vole
  start 30
  behaviour go
    if chance(bite)
      remove self
measure voles = count Vole
summary low = min of voles
`;

const STUDIES = `
scenario Dry summer   # made up
  bite = 0.4
  from 10 days to 20 days: kestrels = 12

study Bites
  note Does it matter? "Hardly" (100 %)
  vary bite  0.1, 0.2
  5 seeds each
  outcome crash: low < bite * 50

study Weather
  3 seeds each

scenario Wet
  kestrels = 1
`;

function modelOf(text: string) {
  const { loaded, check, diagnostics } = loadModel(text);
  expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  return { model: { text, loaded: loaded! }, tree: check.tree };
}
const findings = (text: string) => {
  const { model, tree } = modelOf(text);
  return findingsInStudies(model, tree);
};

describe('studies in the text of a model', () => {
  it('are read as texts of their own; what varies nothing compares the scenarios of the text', () => {
    const text = MODEL + STUDIES;
    const { model, tree } = modelOf(text);
    expect(findings(text)).toEqual([]);
    const [bites, weather] = studiesInText(text, tree).map((found) => readStudy(found.text, model).study!);
    expect([bites!.name, bites!.note]).toEqual(['Bites', 'Does it matter? "Hardly" (100 %)']);
    expect(pointCount(bites!.setting.design)).toBe(2);
    expect(bites!.outcomes).toEqual([{ name: 'crash', condition: 'low < bite * 50' }]);
    const { design } = weather!.setting;
    expect(design.is === 'listed' && design.names).toEqual(['Dry summer', 'Wet']);
    expect(pointAt(design, 0).timeline).toBe('from 10 days to 20 days: kestrels = 12');
    const all = readStudy(scenariosInText(text, tree)!.text, model).study!.setting.design;
    expect(all.is === 'listed' && all.names).toEqual(['As it is', 'Dry summer', 'Wet']);
  });

  it('change nothing of the run', () => {
    const plain = loadModel(MODEL).loaded!.plan;
    expect(loadModel(MODEL + STUDIES).loaded!.plan).toEqual(plain);
    expect(scenariosInText(MODEL, loadModel(MODEL).check.tree)).toBeUndefined();
  });

  it.each([
    ['bite = 0.4', 'byte = 0.4', 'study/parameter', 'byte', 'bite'],
    ['kestrels = 12', 'kestrels = twelve', 'name/unknown', 'twelve', undefined],
    ['vary bite  0.1, 0.2', 'vary bite  from 0 to 1', 'study/values', 'from 0 to 1', '5 values from 0 to 1'],
    ['low < bite', 'lox < bite', 'name/unknown', 'lox', undefined],
    ['  3 seeds each\n', '', 'study/missing', 'study Weather', undefined],
    ['study Weather', 'study Bites', 'study/twice', 'study Bites', undefined],
    ['scenario Wet', 'scenario dry summer', 'study/scenario', 'scenario dry summer', undefined],
  ])('say what is wrong at its place: %s', (right, wrong, code, at, repaired) => {
    for (const ends of ['\n', '\r\n']) {
      const text = (MODEL + STUDIES).replace(right, wrong).replaceAll('\n', ends);
      const found = findings(text);
      expect(found.map((each) => each.code)).toEqual([code]);
      expect(text.slice(found[0]!.span.start, found[0]!.span.end)).toBe(at);
      const fix = found[0]!.fixes?.[0];
      if (repaired) expect(fix!.edits).toEqual([{ span: found[0]!.span, text: repaired }]);
      if (fix) expect(findings(applyEdits(text, fix.edits))).toEqual([]);
    }
  });

  it('stay as they are in the usual layout, and names change in them too', () => {
    const text = MODEL + STUDIES;
    const { checked } = modelOf(text).model.loaded;
    expect(formatModel(text, checked.uses)).toContain(STUDIES.trim());
    const { edits } = new Names(text).rename(text.indexOf('bite'), 'bites');
    const renamed = applyEdits(text, edits);
    expect(renamed).toContain('vary bites  0.1');
    expect(renamed).toContain('bites = 0.4');
    expect(renamed).toContain('low < bites * 50');
    expect(findings(renamed)).toEqual([]);
    // Prose is left alone.
    expect(renamed).toContain('study Bites\n  note Does it');
  });

  it('stand so in the reference', () => {
    const reference = readFileSync(new URL('../../../../../docs/studies.md', import.meta.url), 'utf8');
    const text = /```vole\n([\s\S]*?)```/.exec(reference)![1]!;
    expect(findings(text)).toEqual([]);
    expect(studiesInText(text, modelOf(text).tree).map(({ name }) => name)).toEqual([
      'What rain does',
      'How much rain',
    ]);
  });

  it('are written into a text in place of those of the same names', () => {
    const model = MODEL.replace('agent', '\n\n\nagent');
    const text = model + STUDIES;
    const { tree } = modelOf(text);
    const study = 'study bites\n  vary bite 0.3, 0.5\n  2 seeds each\n';
    const written = withStudy(text, tree, study);
    expect(findings(written)).toEqual([]);
    const found = studiesInText(written, modelOf(written).tree);
    expect(found.map(({ name }) => name)).toEqual(['Weather', 'bites']);
    expect(found[1]!.text).toBe(study);
    const scenarios = 'study Other weather\n  2 seeds each\n\nscenario wet\n  kestrels = 3\n\nscenario As it is\n';
    const both = withStudy(written, modelOf(written).tree, scenarios);
    expect(findings(both)).toEqual([]);
    expect(both.match(/^scenario .*$/gim)).toEqual([
      'scenario Dry summer   # made up',
      'scenario wet',
      'scenario As it is',
    ]);
    expect(withoutStudies(both)).toBe(model.trimEnd());
    expect(withoutStudies(`${MODEL}study = 3\n`)).toBe(`${MODEL}study = 3`);
  });

  it('take anything as their lines', () => {
    const odd = `${MODEL}\nstudy   \n  ? * % "open\n    deeper\n\t\u201cquoted\u201d\n`;
    expect(findings(odd).map(({ code }) => code)).toContain('study/line');
    expect(findings(`${MODEL}\nstudy`).map(({ code }) => code)).toContain('study/missing');
    const alone = `${MODEL}\nscenario Alone\n  bite = 0.3\nstudy One\n  2 seeds each\n`;
    expect(findings(alone)).toEqual([]);
    expect(studiesInText(alone, modelOf(alone).tree)[0]!.text).toContain('\nscenario As it is\n\nscenario Alone\n');
    expect(findings(alone.replace('0.3', 'three')).map(({ code }) => code)).toEqual(['study/values']);
  });
});
