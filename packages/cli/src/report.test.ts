import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Bundle } from '@vole/core';
import {
  ENGINE_VERSION,
  blockOf,
  compilePlan,
  encodeBlock,
  loadModel,
  Rerun,
  shownNumber,
  simulate,
  textDigest,
  writeBundle,
} from '@vole/core';
import { strFromU8, unzipSync } from 'fflate';
import { HtmlValidate } from 'html-validate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PEN_MODEL } from '../test/pen-model.ts';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
const EXAMPLE = fileURLToPath(new URL('../../../examples/meadow-year.vole', import.meta.url));
let folder = '';
const out = (name: string): string => join(folder, name);
const report = (...args: string[]) => spawnSync(process.execPath, [VOLE, 'report', ...args], { encoding: 'utf8' });

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-report-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('vole report', () => {
  it('writes HTML that a validator finds nothing wrong in', async () => {
    expect(report(EXAMPLE, '--out', out('r.html')).status).toBe(0);
    const found = await new HtmlValidate({ extends: ['html-validate:recommended'] }).validateString(
      readFileSync(out('r.html'), 'utf8'),
    );
    expect(
      found.results.flatMap(({ messages }) => messages.map(({ ruleId, message }) => `${ruleId}: ${message}`)),
    ).toEqual([]);
  });

  it('writes Markdown with its figures beside it, all of which are there', () => {
    expect(report(EXAMPLE, '--out', out('r.md')).status).toBe(0);
    const text = readFileSync(out('r.md'), 'utf8');
    const figures = [...text.matchAll(/!\[[^\]]*\]\(([^)]+)\)/g)].map(([, name]) => name!);
    expect(figures.length).toBeGreaterThan(0);
    for (const name of figures) expect(readFileSync(out(name), 'utf8')).toMatch(/^<svg /);
  });

  it('writes DOCX with headings, tables, formulas and a picture with words for those who do not see it', () => {
    expect(report(EXAMPLE, '--out', out('r.docx')).status).toBe(0);
    const files = unzipSync(readFileSync(out('r.docx')));
    const document = strFromU8(files['word/document.xml']!);
    for (const part of ['w:val="Heading1"', '<w:tbl>', 'm:oMath', 'descr="A step: timeline, then life'])
      expect(document).toContain(part);
    const [picture] = Object.keys(files).filter((name) => name.endsWith('.png'));
    expect(files[picture!]!.subarray(1, 4)).toEqual(Uint8Array.from([80, 78, 71]));
  });

  it('tells of a bundle what came out of its studies, and leaves out those that are to be left out or cannot be read', () => {
    const model = PEN_MODEL;
    const study = {
      kind: 'vary' as const,
      seeds: [1, 2, 3],
      every: 1,
      parameters: { bite: 0.2 },
      factors: [{ parameter: 'bite', values: [0.2, 0.6] }],
      digest: '',
      isDone: true,
    };
    const compiled = compilePlan(loadModel(model).loaded!.plan);
    const rerun = Rerun.of({ ...study, name: 'Bites' }, model, new Map()) as Rerun;
    const runs = [];
    for (let job = rerun.proposer.next(); job; job = rerun.proposer.next())
      runs.push({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! });
    const block = new Uint8Array(encodeBlock(blockOf(runs), textDigest(model)));
    const torn = new Uint8Array(encodeBlock(blockOf(runs), textDigest('another')));
    const bundle: Bundle = {
      engine: ENGINE_VERSION,
      project: { name: 'Pen', notes: 'At once {mean of most in Bites, bite 0.6}.' },
      model,
      files: {},
      studies: [
        { ...study, name: 'Bites', block },
        { ...study, name: 'Hidden', block, isLeftOut: true },
        { ...study, name: 'Torn', block: torn },
      ],
      observed: [{ name: 'seen.csv', csv: '# counted by nobody\nday,meals\n1,2\n' }],
      tables: {},
    };
    writeFileSync(out('pen.voleparade'), writeBundle(bundle));
    const { status, stderr } = report(out('pen.voleparade'), '--out', out('pen.md'), '--force');
    expect([status, stderr.split('\n')[0]]).toEqual([
      0,
      '“Torn” is left out: its runs cannot be used. These results are of another text.',
    ]);
    const text = readFileSync(out('pen.md'), 'utf8');
    const most = runs
      .filter(({ point }) => point === 'bite=0.6')
      .map(({ outcome }) => ('result' in outcome ? outcome.result.summaries[0]! : NaN));
    const mean = most.reduce((sum, value) => sum + value, 0) / 3;
    expect(most).toHaveLength(3);
    expect(text).toContain(`At once ${shownNumber(mean)}.`);
    expect(text).toMatch(/## Bites[\s\S]*6 runs\. Text [0-9a-f]{8}/);
    expect(text).not.toMatch(/## (Hidden|Torn)/);
    expect(text).toContain('counted by nobody');
    expect([...text.matchAll(/!\[[^\]]*\]\(([^)]+)\)/g)]).toHaveLength(2);
  });

  it('says which places wait for a sentence, and how to fill them', () => {
    const { stderr } = report(EXAMPLE, '--out', out('w.html'));
    const waiting = stderr.trim().split('\n').filter(Boolean);
    for (const line of waiting)
      expect(line).toMatch(/^[A-Z].*: “.+” waits for a sentence; write “.+: ...” under the title/);
    writeFileSync(
      out('bare.vole'),
      'model Bare\nclock\n  end after 3 steps\nagent Vole\n  start 3\nmeasure n = count Vole\n',
    );
    const bare = report(out('bare.vole'), '--out', out('bare.html'));
    expect(bare.status).toBe(0);
    expect(bare.stderr).toContain('“Purpose” waits');
    expect(readFileSync(out('bare.html'), 'utf8')).toContain('The model has no space');
  });

  it('refuses other endings, files that are there, and texts with errors, and leaves nothing half written', () => {
    const before = readdirSync(folder);
    expect(report(EXAMPLE, '--out', out('r.pdf'))).toMatchObject({ status: 2 });
    const again = report(EXAMPLE, '--out', out('r.html'));
    expect(again).toMatchObject({ status: 2 });
    expect(again.stderr).toContain('--force');
    expect(report(EXAMPLE, '--out', out('r.html'), '--force').status).toBe(0);
    writeFileSync(out('wrong.vole'), 'model Wrong\nagent\n');
    const wrong = report(out('wrong.vole'), '--out', out('wrong.html'));
    expect(wrong.status).toBe(1);
    expect(existsSync(out('wrong.html'))).toBe(false);
    expect(readdirSync(folder).sort()).toEqual([...before, 'wrong.vole'].sort());
  });
});
