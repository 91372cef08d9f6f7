import { TROUBLES } from '../kernel/turn-values.ts';
import type { RunState } from '../state/run-state.ts';
import type { GeneratedState } from './generated-state.ts';
import type { RunKernels } from './run-kernels.ts';

/** What of the seam is needed where a turn fails. */
type Seam = Pick<GeneratedState, 'turnsBefore' | 'turnCount' | 'fail' | 'failCount' | 'failRounds' | 'failNobody'>;

/** Turns that kernels do. */
export class TurnsByKernel {
  constructor(
    private readonly state: RunState,
    private readonly kernels: RunKernels,
    private readonly seam: Seam,
  ) {}

  readonly run: GeneratedState['turnsByKernel'] = (name, kind, columns, key0, key1, numbers, drawn) => {
    const population = this.state.populations[kind]!;
    const kernel = this.kernels.named(name);
    const turns = (from: number, to: number): number => kernel(columns, from, to, key0, key1, ...numbers);
    const failed = turns(0, population.used);
    if (failed < 0) return;
    // The first failure in the order of the turns is told.
    const [site, value, trouble] = this.state.trouble as unknown as [number, number, number];
    if (drawn !== undefined) {
      const list = this.seam.turnsBefore(population, population.alive, drawn, undefined, failed);
      for (let i = 0; i < this.seam.turnCount; i++) {
        const slot = list[i]!;
        if (turns(slot, slot + 1) < 0) continue;
        const [first, held, what] = this.state.trouble as unknown as [number, number, number];
        return this.fail(what, first, held, kind, slot);
      }
    }
    return this.fail(trouble, site, value, kind, failed);
  };

  private fail(trouble: number, site: number, value: number, kind: number, slot: number): void {
    switch (TROUBLES[trouble]!) {
      case 'value':
        return this.seam.fail(site, value, kind, slot);
      case 'count':
        return this.seam.failCount(site, value, kind, slot);
      case 'rounds':
        return this.seam.failRounds(site, kind, slot);
      case 'nobody':
        return this.seam.failNobody(site, kind, slot);
    }
  }
}
