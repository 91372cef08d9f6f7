import { mix, RandomStream } from '../engine/random/stream.ts';

/**
 * What several agents do to one target all at once (S17): one of the settings by a keyed draw, then the factors, then the sums, each in
 * order of the actors' numbers.
 */
export class Contributions {
  private readonly settings: number[] = [];
  private readonly factors: number[] = [];
  private readonly sums: number[] = [];

  add(how: '=' | '+=' | '*=', value: number): void {
    (how === '=' ? this.settings : how === '+=' ? this.sums : this.factors).push(value);
  }

  /**
   * The value after all of them; `stream` is drawn from only if settings are rivals.
   * @param held a value as the target holds it
   */
  settle(before: number, stream: () => RandomStream, held = (value: number): number => value): number {
    let value = before;
    if (this.settings.length === 1) value = held(this.settings[0]!);
    else if (this.settings.length > 1)
      value = held(this.settings[Math.floor((stream().word() * this.settings.length) / 4294967296)]!);
    for (const factor of this.factors) value = held(value * factor);
    for (const sum of this.sums) value = held(value + sum);
    return value;
  }
}

const SETTLE = 0x51ed270b;

/** Luck that settles rivals for one target: a column of an agent, or a field at a cell. */
export function settleStream(seed: number, step: number, rule: number, column: number, target: number): RandomStream {
  return RandomStream.of(seed, step, mix(rule ^ SETTLE) + Math.imul(column + 1, 0x2545f491), target);
}

export function attributeColumnId(kind: number, column: number): number {
  return kind * 4096 + column;
}

export function machineColumnId(kind: number, machine: number): number {
  return 0x3000000 + kind * 256 + machine;
}

export function isMachineColumn(column: number): boolean {
  return column >= 0x3000000 && column < 0x4000000;
}

export function tieColumnId(network: number, column: number): number {
  return 0x4000000 + network * 256 + column;
}

/** Of two agents that want one cell. */
export const CELL_COLUMN = 0x5000000;

/** Luck of the change of a machine that others have set all at once. */
export function changeKey(rule: number): number {
  return mix(rule ^ 0x6d2b79f5);
}

export function variableColumnId(variable: number): number {
  return 0x2000000 + variable;
}

export function fieldColumnId(field: number): number {
  return 0x1000000 + field;
}

/** The field behind a column, if one is. */
export function fieldOfColumn(column: number): number | undefined {
  return column >= 0x1000000 && column < 0x2000000 ? column - 0x1000000 : undefined;
}
