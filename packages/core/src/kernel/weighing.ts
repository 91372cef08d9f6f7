import type * as P from '../plan/plan.ts';
import type { I32, Local, Numbers, Statement } from './kernel.ts';
import { compare, load, number, product, put, set, store, sum, whole } from './kernel.ts';
import type { Around } from './turn-queries.ts';
import type { TurnValues } from './turn-values.ts';

/** A list of those who fit, with room for the weight of each. */
interface Weighed {
  readonly many: Local<'i32'>;
  readonly weights: Numbers;
  /** Puts the one at a place of the list into the local of the candidate. */
  readonly take: (at: I32) => void;
}

/** One of a list whose weight is above 0, with a chance by weight, in kernel form. @returns its place in the list, or -1 */
export function drawnByWeight(
  values: TurnValues,
  around: Around,
  weight: P.Code,
  site: number,
  { many, weights, take }: Weighed,
): Local<'i32'> {
  const { sheet } = values;
  const [at, found, all] = [sheet.i32(), sheet.i32(), sheet.f64()];
  sheet.add(set(all, number(0)), put(found, whole(-1)));
  const weigh = sheet.apart(() => {
    take(at);
    around.block(weight.statements);
    const one = sheet.kept(values.value(weight.value));
    sheet.when({ is: 'not', test: compare(one, '>=', number(0)) }, () => values.fail('value', site, one));
    values.checked(one, site);
    sheet.add(store(weights, at, one), set(all, sum(all, one)));
  });
  sheet.add({ is: 'loop', index: at, from: whole(0), to: many, body: weigh.list });
  sheet.when(compare(all, '>', number(0)), () => {
    const luck = sheet.kept(product(around.unit(), all));
    const reached = sheet.f64();
    const name = `weight${at.name}`;
    const { list } = sheet.apart(() =>
      sheet.when(compare(load(weights, at), '>', number(0)), () => {
        sheet.add(set(reached, sum(reached, load(weights, at))), put(found, at));
        sheet.when(compare(luck, '<', reached), () => sheet.add({ is: 'leave', block: name }));
      }),
    );
    const loop: Statement = { is: 'loop', index: at, from: whole(0), to: many, body: list };
    sheet.add(set(reached, number(0)), { is: 'block', name, body: [loop] });
  });
  return found;
}
