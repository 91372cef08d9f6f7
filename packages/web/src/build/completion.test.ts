import { describe, expect, it } from 'vitest';
import { loadModel } from '@vole/core';
import { offersAt } from './completion.ts';

const TEXT = `model Scope
clock
  step 1 day
  end after 30 days
unit mile = 1609 m
unit kg
parameter bite = 2 kg per day, from 0 to 9
variable season = wet of wet, dry
message Call
space Meadow: plane 40 m by 40 m, wrapping
zone Pond on Meadow
  circle 4 m around (9 m, 9 m)
field grass on Meadow
  start 1
agent Vole
  start 40 anywhere
  has energy = 1 kg
  has coat = pick(brown, grey)
  has friend: Owl = nobody
  states life
    Young
      after 3 days: Old
    Old
  behaviour graze
    let near = count Vole within 3 m
    energy += bite * near * 1 day
agent Owl
  start 3 anywhere
  has wings = 2
network Kin ties Vole to Vole: ring, 4 neighbours
interaction hunt: hunter Owl, prey Vole
  within 5 m
  hunter.wings += 1
order
  graze in turn
  life in turn
  hunt in turn
measure voles = count Vole
`;
const model = loadModel(TEXT).loaded!.checked;

/** What is offered where a piece of text has been typed after a line. */
function offered(after: string, typed: string): string[] {
  const at = TEXT.indexOf(after) + after.length;
  const text = `${TEXT.slice(0, at)}\n${typed}`;
  return offersAt(text + TEXT.slice(at), text.length, model).map(({ label }) => label);
}
const GRAZE = '    energy += bite * near * 1 day';

describe('completion', () => {
  it('offers what the acting kind has, what was given a name before, and the whole model, in that order', () => {
    const names = offered(GRAZE, '    energy += n');
    expect(names.slice(0, 2)).toEqual(['near', 'energy']);
    for (const name of ['coat', 'life', 'bite', 'season', 'grass', 'uniform']) expect(names).toContain(name);
    expect(names).not.toContain('wings');
    expect(names).not.toContain('voles');
    expect(names.indexOf('energy')).toBeLessThan(names.indexOf('bite'));
  });

  it.each([
    ['members of the acting agent', GRAZE, '    energy += self.', ['energy', 'coat', 'friend', 'life', 'x'], ['wings']],
    [
      'members of the candidate of a query',
      GRAZE,
      '    energy += count Owl within 3 m where it.',
      ['wings', 'place'],
      ['energy'],
    ],
    ['members of one who was picked', GRAZE, '    with o = nearest Owl within 3 m\n      o.', ['wings'], ['coat']],
    ['members of whom an attribute points at', GRAZE, '    if friend is not nobody and friend.', ['wings'], ['coat']],
    ['roles of an interaction', '  hunter.wings += 1', '  prey.', ['energy', 'coat'], ['wings']],
    ['states where a machine is compared', GRAZE, '    if life is ', ['Young', 'Old'], ['brown', 'energy']],
    ['states of the candidate', GRAZE, '    energy += count Vole where it.life is ', ['Young', 'Old'], ['energy']],
    ['choices of an attribute', GRAZE, '    coat = ', ['brown', 'grey'], ['Young', 'wet']],
    ['choices of a variable', GRAZE, '    if season is not ', ['wet', 'dry'], ['brown']],
    ['states a transition leads to', '      after 3 days: Old', '      chance 0.1: ', ['Young', 'Old'], ['energy']],
    ['units after a number', GRAZE, '    move by 3 ', ['mile', 'm', 'km'], ['energy']],
    ['zones', GRAZE, '    if here is in zone ', ['Pond'], ['Kin']],
    ['networks', GRAZE, '    energy += count Vole tied by ', ['Kin'], ['Pond']],
    ['messages', GRAZE, '    send ', ['Call'], ['Pond']],
    ['kinds to ask for', GRAZE, '    energy += count ', ['Vole', 'Owl', 'cells'], ['bite']],
    ['parts at the margin', 'measure voles = count Vole', '', ['agent', 'measure', 'space'], ['move', 'energy']],
    ['what a kind is made of', '  start 3 anywhere', '  ', ['has', 'behaviour', 'states'], ['agent', 'move']],
    ['statements in a behaviour', GRAZE, '    ', ['move', 'let', 'energy'], ['agent', 'behaviour']],
    ['rules in the order', '  graze in turn', '  ', ['graze', 'life', 'hunt', 'grass'], ['energy']],
    ['measures in charts', 'measure voles = count Vole', 'chart Voles: ', ['voles'], ['energy']],
    ['what is shown', 'measure voles = count Vole', 'show ', ['Vole', 'grass', 'Kin', 'Pond'], ['voles']],
  ])('offers %s', (_, after, typed, there, missing) => {
    const names = offered(after, typed);
    for (const name of there) expect(names).toContain(name);
    for (const name of missing) expect(names).not.toContain(name);
  });

  it('offers lines to travel by, and what is said of a line', () => {
    const text = `model Lines
data "l.geojson"
  {"type": "FeatureCollection", "features": [{"type": "Feature", "geometry": {"type": "LineString", "coordinates": [[0, 0], [90, 0]]}}]}
space Lane: map from "l.geojson", in metres
agent Ferry
  seats 2
line Ferries by Ferry
  stops (0 m, 0 m), (90 m, 0 m)
  every 4 steps
  at 9 m per step
agent Vole
  start 3 anywhere
  behaviour go
    travel to somewhere at 3 m per step or by Ferries
order
  Ferries in turn
  go in turn
measure n = count Vole
`;
    const lines = loadModel(text).loaded!.checked;
    const names = (upTo: string): string[] => {
      const at = text.indexOf(upTo) + upTo.length;
      return offersAt(text, at, lines).map(({ label }) => label);
    };
    expect(names('at 3 m per step or by ')).toEqual(['Ferries']);
    expect(names('line Ferries by Ferry\n  ')).toEqual(['stops', 'every', 'at', 'dwell', 'timetable']);
    expect(names('order\n  ')).toContain('Ferries');
  });

  it('says of what each is, with its unit', () => {
    const at = TEXT.indexOf(GRAZE);
    const offers = offersAt(TEXT, at + 4, model);
    expect(offers.find(({ label }) => label === 'bite')?.detail).toBe('parameter kg per day');
    expect(offers.find(({ label }) => label === 'near')?.detail).toBe('a Vole');
  });
});
