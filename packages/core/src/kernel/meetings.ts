import { removesAgents } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import type { I32, Local } from './kernel.ts';
import { compareWhole, selectWhole, whole } from './kernel.ts';
import type { Around } from './turn-queries.ts';
import { isTieThere } from './ties.ts';
import type { TurnValues } from './turn-values.ts';

/** Goes through a list one by one, in kernel form, as long as those that it holds are there and still fit. @param take puts the one at a place of the list into its local */
export function writeMeetings(
  values: TurnValues,
  around: Around,
  s: Extract<P.Statement, { op: 'each' }>,
  many: Local<'i32'>,
  take: (at: I32) => void,
): void {
  const { sheet } = values;
  const { kind, over, candidate, where } = s.query;
  const at = sheet.i32();
  const name = `meeting${at.name}`;
  const { list } = sheet.apart(() => {
    const leave = (): void => sheet.add({ is: 'leave', block: name });
    take(at);
    if (kind >= 0 && !values.steady.has(kind)) sheet.when({ is: 'not', test: values.isThere(kind, candidate) }, leave);
    if (over.is === 'ties') sheet.when({ is: 'not', test: isTieThere(values, over.network, candidate) }, leave);
    if (s.recheck && where) {
      around.block(where.statements);
      sheet.when({ is: 'not', test: values.test(where.value) }, leave);
      take(at);
    }
    around.block(s.body);
    if (removesAgents(s.body))
      sheet.when({ is: 'not', test: values.isThere(values.actorKind, 0) }, () =>
        sheet.add({ is: 'leave', block: 'turn' }),
      );
  });
  const most = s.most === undefined ? undefined : whole(s.most);
  const to = most ? sheet.keptWhole(selectWhole(compareWhole(many, '<', most), many, most)) : many;
  sheet.add({ is: 'loop', index: at, from: whole(0), to, body: [{ is: 'block', name, body: list }] });
}
