import type * as P from '../plan/plan.ts';

/** The columns of a kind under the names that code uses, as pairs of name and source. */
export function columnNames(kind: P.KindPlan, k: number): [string, string][] {
  const names: [string, string][] = [
    [`k${k}_alive`, `k${k}.alive`],
    [`k${k}_num`, `k${k}.number`],
    [`k${k}_x`, `k${k}.x`],
    [`k${k}_y`, `k${k}.y`],
    [`k${k}_dir`, `k${k}.direction`],
    [`k${k}_sin`, `k${k}.sine`],
    [`k${k}_cos`, `k${k}.cosine`],
  ];
  kind.columns.forEach((_, i) => names.push([`k${k}_a${i}`, `k${k}.attributes[${i}]`]));
  kind.machines.forEach((_, i) => names.push([`k${k}_s${i}`, `k${k}.states[${i}]`]));
  for (let i = 0; i < kind.dueCount; i++) names.push([`k${k}_d${i}`, `k${k}.due[${i}]`]);
  return names;
}

export function reloads(kind: P.KindPlan, k: number): string {
  return (
    [`k${k}_version = k${k}.version`, ...columnNames(kind, k).map(([name, source]) => `${name} = ${source}`)].join(
      '; ',
    ) + ';'
  );
}
