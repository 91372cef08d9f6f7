import type * as P from '../plan/plan.ts';
import { boundsOf, emitValue, placedOnAxis } from './emit-expression.ts';
import type { PlanWriter } from './plan-writer.ts';
import { rasterCode, sizeCode } from './known-sizes.ts';
import { literal } from '../source-writer.ts';

/** A field's values, and the finding of its cells written out for the form and edge of the space. */
export function emitFieldConstants(script: PlanWriter, g: number): void {
  const { w } = script;
  const s = script.plan.fields[g]!.space;
  const space = script.plan.spaces[s]!;
  w.line(
    `const g${g} = S.fields[${g}], g${g}_v = g${g} && g${g}.values, g${g}_z = g${g} && g${g}.cell, g${g}_c = g${g} && g${g}.columns, g${g}_r = g${g} && g${g}.rows;`,
  );
  const { columns, rows, cell } = rasterCode(script.plan, g);
  w.block(`function cellOf${g}(x, y)`, () => {
    w.line('if (x !== x || y !== y) return -1;');
    const [x, y] = [
      placedOnAxis(space, 'x', sizeCode(script.plan, s, 'x')),
      placedOnAxis(space, 'y', sizeCode(script.plan, s, 'y')),
    ];
    w.line(`const i = Math.floor(${x} / ${cell}), j = Math.floor(${y} / ${cell});`);
    w.line(`return (j < ${rows} ? j : ${rows} - 1) * ${columns} + (i < ${columns} ? i : ${columns} - 1);`);
  });
}

export function emitField(script: PlanWriter, field: P.FieldPlan, g: number): void {
  if (field.start)
    emitCellLoop(
      script,
      `gs${g}`,
      field.start,
      g,
      (value) => {
        script.w.line(`p = ${heldCode(value, field)};`);
        emitStoreCell(script, field, field.bounds);
      },
      field,
    );
  if (field.grow)
    emitCellLoop(
      script,
      `gg${g}`,
      field.grow,
      g,
      (value) => {
        const times = `${literal(field.growPerTime ? script.plan.clock.stepLength : 1)} * `;
        script.w.line(`p = ${heldCode(`g${g}_v[own] + ${times}${value}`, field)};`);
        // What spreads or fades is clipped only after that.
        emitStoreCell(script, field, field.spread || field.fade || field.becomes ? undefined : field.bounds);
      },
      field,
    );
  if (field.kept) emitKept(script, g, field, field.kept);
  if (field.becomes)
    emitCellLoop(
      script,
      `gb${g}`,
      field.becomes,
      g,
      (value) => {
        script.w.line(`p = ${heldCode(value, field)};`);
        emitStoreCell(script, field, field.bounds);
      },
      field,
    );
}

/** A value as a cell of the field holds it. */
export function heldCode(value: string, { isSingle }: P.FieldPlan): string {
  return isSingle ? `Math.fround(${value})` : value;
}

/** What a cell keeps of a value, by bounds that look at it. */
function emitKept(script: PlanWriter, g: number, field: P.FieldPlan, body: P.ValueBody): void {
  const { w } = script;
  const effects = script.effectsOfCode(body);
  const out = script.body({ atOnce: false, effects, cell: 'own', ownField: g });
  w.block(`function gk${g}(value, own)`, () => {
    script.indices(effects);
    script.locals(body.locals, 1);
    w.line('const L0 = value;');
    out.statements(body.statements);
    w.line(`return fin(${emitValue(out, body.value)}, ${field.site}, -1, -1);`);
  });
}

/** Puts p into the cell, kept within bounds; not finite, it stops the run. */
function emitStoreCell(script: PlanWriter, { site }: P.FieldPlan, keep: P.FieldPlan['bounds']): void {
  const { w } = script;
  const check = `if (p - p !== 0) F(${site}, p, -1, -1);`;
  const bounds = keep && boundsOf(keep);
  if (!bounds) {
    w.line(check);
    w.line(`out[own] = ${keep ? 'clip(p, lo, hi)' : 'p'};`);
    return;
  }
  // Inside the bounds, as most cells are, p is surely finite.
  const [low, high] = bounds;
  w.line(`if (p > ${high}) { ${check} p = ${high}; } else if (!(p >= ${low})) { ${check} p = ${low}; }`);
  w.line('out[own] = p;');
}

function emitCellLoop(
  script: PlanWriter,
  name: string,
  body: P.ValueBody,
  g: number,
  store: (value: string) => void,
  field: P.FieldPlan,
): void {
  const { w } = script;
  const effects = script.effectsOfCode(body);
  const out = script.body({ atOnce: false, effects, cell: 'own', ownField: g });
  w.block(`function ${name}(out, key0, key1)`, () => {
    if (field.bounds)
      w.line(
        `const lo = ${script.shared.valueName(field.bounds.min)}(), hi = ${script.shared.valueName(field.bounds.max)}();`,
      );
    script.indices(effects);
    script.heldFields(effects, g);
    script.locals(Math.max(1, body.locals));
    const { columns, rows } = rasterCode(script.plan, g);
    w.block(`for (let own = 0, n = ${columns} * ${rows}; own < n; own++)`, () => {
      if (effects.draws) w.line('s0 = agentKey0(key0, own); s1 = agentKey1(key1, own);');
      out.statements(body.statements);
      store(emitValue(out, body.value));
    });
  });
}
