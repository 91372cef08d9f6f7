import { expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { listingOf } from '../../test/wasm-listing.ts';
import { fieldKernels } from './field-kernels.ts';
import { javascriptOf } from './print-javascript.ts';
import { wasmOf } from './print-wasm.ts';

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
