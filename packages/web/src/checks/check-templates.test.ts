import { readdirSync, readFileSync } from 'node:fs';
import { loadModel, modelFiles } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { checkTemplates, withCheck } from './check-templates.ts';

const FOLDER = new URL('../../../../examples/', import.meta.url);
const TEXTS = readdirSync(FOLDER)
  .filter((name) => name.endsWith('.vole'))
  .map((name) => [name, readFileSync(new URL(name, FOLDER), 'utf8')] as const);
const MAPS = await modelFiles([['hollowmere.osm', readFileSync(new URL('hollowmere.osm', FOLDER), 'utf8')]]);
const BARE =
  'model Bare\nclock\n  step 1 day\n  end after 3 steps\nparameter pace = 2 per week, from 1 to 4\nagent A\n  start 3\nmeasure n = count A\n';

describe('templates of checks', () => {
  it.each([...TEXTS, ['a bare one', BARE] as const])('can all be read in %s', (_, text) => {
    const templates = checkTemplates(loadModel(text, MAPS).loaded!.plan);
    expect(templates).toHaveLength(5);
    for (const template of templates) {
      const { loaded, diagnostics } = loadModel(withCheck(text, template.text), MAPS);
      expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
      expect(loaded!.plan.checks.at(-1)!.title).toBe(/^check (.*)$/m.exec(template.text)![1]);
    }
  });

  it('set the parameter to what is nearest to nothing, and to its extreme', () => {
    const texts = checkTemplates(loadModel(BARE).loaded!.plan).map(({ text }) => text);
    expect(texts[0]).toContain('with pace = 1 per week, over');
    expect(texts[4]).toContain('with pace = 4 per week, over');
  });

  it('are none for a model that measures nothing', () => {
    expect(
      checkTemplates(loadModel('model Bare\nclock\n  end after 3 steps\nagent A\n  start 3\n').loaded!.plan),
    ).toEqual([]);
  });
});
