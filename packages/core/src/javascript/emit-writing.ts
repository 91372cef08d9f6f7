import { columnKey } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { attributeColumnId, fieldColumnId } from '../plan/settling.ts';
import type { BodyWriter, Of } from './body-writer.ts';
import { emitTellOf } from './emit-events.ts';
import { heldCode } from './emit-fields.ts';
import { addsField, cellIndex, emitChecked, emitFinite, emitValue } from './emit-expression.ts';

/** Notes a write of `p` until the rule is over. */
export function loggedWrite(column: number, target: string, how: P.WriteHow): string {
  return `writes.add(${column}, ${target}, ${how === '=' ? 0 : how === '*=' ? 1 : 2}, p);`;
}

export function emitWrite(out: BodyWriter, s: Of<'write'>): void {
  const { w } = out;
  const { effects } = out.options;
  const key = columnKey(s.kind, s.column);
  const own = out.options.atOnce && !s.agent.fresh ? effects.contested.get(key) : undefined;
  const column = `k${s.kind}_a${s.column}[L${s.agent.local}]`;
  if (own === undefined) {
    w.line(`p = ${applied(column, s.how, emitValue(out, s.value))};`);
    if (!s.mayBeEmpty && !(s.how === '=' && s.value.op === 'number')) emitChecked(out, 'p', s.site);
    w.line(`${column} = p;`);
    emitTellOf(
      out,
      s.kind,
      s.agent,
      (number) => `{ is: "write", site: ${s.site}, kind: ${s.kind}, number: ${number}, column: ${s.column}, value: p }`,
    );
    return;
  }
  w.line(`p = ${emitValue(out, s.value)};`);
  if (!s.mayBeEmpty) emitChecked(out, 'p', s.site);
  const contribute = effects.addedColumns.has(key)
    ? `${column} += p;`
    : loggedWrite(attributeColumnId(s.kind, s.column), `L${s.agent.local}`, s.how);
  if (!s.agent.own) w.line(contribute);
  else {
    const held = `o${s.kind}_${s.column}`;
    w.line(own === '=' ? `os${s.kind}_${s.column} = true;` : contribute);
    w.line(`${held} = ${applied(held, s.how, 'p')};`);
    if (!s.mayBeEmpty) emitChecked(out, held, s.site);
  }
}

export function emitWriteField(out: BodyWriter, s: Of<'write field'>): void {
  const { w } = out;
  const cell = cellIndex(out, s.field, s.x, s.y);
  const field = out.shared.plan.fields[s.field]!;
  w.block('', () => {
    w.line(`const cell = ${cell};`);
    w.line(`p = ${emitValue(out, s.value)};`);
    if (out.options.atOnce) {
      if (field.isSingle || s.value.op !== 'number') emitChecked(out, heldCode('p', field), s.site);
      const written = loggedWrite(fieldColumnId(s.field), 'cell', s.how);
      // There is no cell where the place is none.
      w.line(addsField(out, s.field) ? `g${s.field}_v[cell] += p;` : `if (cell >= 0) ${written}`);
      return;
    }
    w.line(`p = ${heldCode(applied(`g${s.field}_v[cell]`, s.how, 'p'), field)};`);
    emitChecked(out, 'p', s.site);
    w.line(`g${s.field}_v[cell] = ${field.bounds ? `clip(p, lo${s.field}, hi${s.field})` : 'p'};`);
  });
}

export function emitAddToList(out: BodyWriter, s: Of<'add to list'>): void {
  const { w } = out;
  const waits = out.options.atOnce && !s.agent.own;
  w.block('', () => {
    w.line(
      `const slot = L${s.agent.local}, a = ${emitValue(out, s.values[0]!)}, b = ${s.values[1] ? emitValue(out, s.values[1]) : '0'};`,
    );
    if (!s.ofAgents && s.values.length === 1) emitChecked(out, 'a', s.site);
    const add = `addToList(k${s.kind}.attributes, slot, ${s.column}, ${s.size}, ${s.values.length}, ${s.ofAgents}, a, b)`;
    w.line(waits ? `S.later.push(() => ${add});` : `${add};`);
  });
}

export function emitTie(out: BodyWriter, s: Of<'tie'>): void {
  const { w } = out;
  w.block('', () => {
    w.line(
      `const a = L${(s.flip ? s.b : s.a).local}, b = L${(s.flip ? s.a : s.b).local}, values = [${s.values.map((value) => emitFinite(out, value, s.site)).join(', ')}];`,
    );
    w.line(
      out.options.atOnce
        ? `S.later.push(() => S.tie(${s.network}, a, b, values));`
        : `S.tie(${s.network}, a, b, values);`,
    );
  });
}

export function emitSend(out: BodyWriter, s: Of<'send'>): void {
  const { w } = out;
  const sender = s.sender ? `${s.sender.kind}, k${s.sender.kind}_num[L${s.sender.agent.local}]` : '-1, 0';
  const values = `[${s.values.map((value) => emitFinite(out, value, s.site)).join(', ')}]`;
  const due = s.delay ? `dueAfter(${emitFinite(out, s.delay, s.site)}, W)` : 'NaN';
  w.block('', () => {
    w.line(`const values = ${values}, due = ${due};`);
    w.line(
      `if (k${s.kind}_alive[L${s.agent.local}] !== 0) MAIL.send(${s.message}, ${s.kind}, k${s.kind}_num[L${s.agent.local}], ${sender}, due, wEnd, values);`,
    );
  });
}

export function applied(held: string, how: P.WriteHow, value: string): string {
  return how === '=' ? value : `${held} ${how === '+=' ? '+' : '*'} ${value}`;
}
