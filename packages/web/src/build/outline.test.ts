import { readFileSync } from 'node:fs';
import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { sliderRange } from '../simulation/slider-range.ts';
import { outlineOf } from './outline.ts';

const MEADOW = readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8');
const plan = loadModel(MEADOW).loaded!.plan;

describe('the outline', () => {
  it('lists the parts in the order of the text, with findings where they are', () => {
    const wrong = MEADOW.replace('bite * appetite', 'bight * appetite');
    const lines = outlineOf(wrong, loadModel(wrong).diagnostics);
    expect(lines.map((line) => line.label).slice(0, 8)).toEqual([
      'Plan: Meadow year',
      'clock',
      'parameters, 5',
      'Meadow, plane',
      'grass, field',
      'Vole',
      'life: Pup, Adult, Nesting',
      'forage',
    ]);
    expect(lines.filter((line) => line.problems > 0).map((line) => line.label)).toContain('forage');
  });
  it('has every part of a model of all parts, each at its place', () => {
    const text =
      'model All\nunit sack\ntally deals\nvariable wind = 1\nspace S: plane 9 by 9, wrapping\nzone Pond on S\n  circle 1 around (3, 3)\nmessage Hey\nnetwork Kin ties A to A: none\ndefine twice(one) = one * 2\nroutine rest_well\n  log 1\nagent A\n  start 3 anywhere\n  behaviour go\n    do rest_well\ninteraction meet: a A, b A\n  within 2\n  log wind\n';
    const lines = outlineOf(text, loadModel(text).diagnostics);
    for (const name of ['sack', 'S', 'Pond', 'Hey', 'Kin', 'A', 'go', 'meet']) {
      const line = lines.find(({ label }) => new RegExp(`\\b${name}\\b`).test(label));
      expect([name, line !== undefined]).toEqual([name, true]);
      expect(text.slice(line!.start).split('\n')[0]).toContain(name);
    }
  });
});

describe('the values of a run', () => {
  it('have sliders over the bounds of the text, in steps that fit', () => {
    expect(sliderRange(plan.parameters.find((p) => p.name === 'kestrels')!)).toEqual({ min: 0, max: 60, step: 1 });
    expect(sliderRange(plan.parameters.find((p) => p.name === 'strike')!)).toEqual({ min: 0, max: 1, step: 0.01 });
  });
});
