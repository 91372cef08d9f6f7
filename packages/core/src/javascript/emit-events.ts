import type * as P from '../plan/plan.ts';
import type { BodyWriter } from './body-writer.ts';

export function emitTell(out: BodyWriter, event: string): void {
  if (out.shared.traces) out.w.line(`if (tr) TR.note(${event});`);
}

/** Tells of what happens to an agent, also when another does it. */
export function emitTellOf(out: BodyWriter, kind: number, agent: P.AgentRef, event: (number: string) => string): void {
  if (!out.shared.traces || agent.fresh) return;
  const number = `k${kind}.number[L${agent.local}]`;
  out.w.line(`if (tr || TR.concerns(${kind}, ${number})) TR.note(${event(number)});`);
}
