import { expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { listingOf } from '../../test/wasm-listing.ts';
import { fieldKernels } from './field-kernels.ts';
import { javascriptOf } from './print-javascript.ts';
import { wasmOf } from './print-wasm.ts';
import { ruleKernels } from './rule-kernels.ts';

const MODEL = `model Grass and a scent
clock
  end after 30 steps
parameter rain = 0.2, from 0 to 1
space Bank: grid 20 by 20, 8 neighbours
field grass on Bank
  start 0.5
  grow rain * grass * (1 - grass)
  keep 0 to 1
field scent on Bank
  start uniform(0, 1)
  spread 30 %
  fade 10 %
  keep 0 to 1
agent Vole
  start 20 anywhere
order
  grass, scent
measure grown = sum of grass
`;

it('the kernels of two fields, spelled as JavaScript, are those that were read and found right', async () => {
  const { functions } = fieldKernels(planOf(MODEL));
  await expect(functions.map(javascriptOf).join('\n\n')).toMatchFileSnapshot('./golden/fields.js.txt');
});

it('that of growing, spelled as WebAssembly, is the one that was read and found right', async () => {
  const growing = fieldKernels(planOf(MODEL)).functions.filter(({ name }) => name === 'grow0');
  await expect(listingOf(wasmOf(growing))).toMatchFileSnapshot('./golden/growing.wasm.txt');
});

const TURNS = `model Voles that tire
clock
  end after 30 steps
space Bank: plane 64 by 64, wrapping
agent Vole
  start 20 anywhere
  states mood
    Fresh
      chance 0.1: Tired
    Tired
      after uniform(2, 4) * 1 step: Fresh
  behaviour go when mood is Fresh
    turn by uniform(-30 deg, 30 deg)
    move by 1
order
  go in turn
  mood all at once
measure fresh = count Vole where it.mood is Fresh
`;

it('the turns of two rules, spelled as JavaScript, are those that were read and found right', async () => {
  const { functions } = ruleKernels(planOf(TURNS));
  await expect(functions.map(javascriptOf).join('\n\n')).toMatchFileSnapshot('./golden/turns.js.txt');
});

it('those by which they tire, spelled as WebAssembly, are the ones that were read and found right', async () => {
  const tiring = ruleKernels(planOf(TURNS)).functions.filter(({ name }) => name === 'turns1');
  await expect(listingOf(wasmOf(tiring))).toMatchFileSnapshot('./golden/tiring.wasm.txt');
});

const SIGHT = `model Voles that see who is near
clock
  end after 30 steps
space Bank: grid 20 by 20, 8 neighbours, walled, one agent a cell
agent Vole
  start 20 anywhere
  has near = 0
  behaviour look
    near = count Vole within 2
    with c = random empty cell next to here
      move to c
order
  look in turn
measure seen = sum of it.near over Vole
`;

it('turns that look at cells, and what fills these, spelled as JavaScript, are those that were read and found right', async () => {
  const { functions } = ruleKernels(planOf(SIGHT));
  await expect(functions.map(javascriptOf).join('\n\n')).toMatchFileSnapshot('./golden/sight.js.txt');
});

it('a count of those in sight, spelled as WebAssembly, is the one that was read and found right', async () => {
  const plan = planOf(SIGHT.replace(/ {4}with[^]*move to c\n/, ''));
  const looking = ruleKernels(plan).functions.filter(({ name }) => name === 'turns0');
  await expect(listingOf(wasmOf(looking))).toMatchFileSnapshot('./golden/sight.wasm.txt');
});
