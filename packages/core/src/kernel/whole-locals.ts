import type * as P from '../plan/plan.ts';
import { visitStatements } from '../plan/visit.ts';

/** The locals of a body that hold agents, ties or places in lists: who acts, who is asked for, found and picked. */
export function wholeLocals(body: P.Body): ReadonlySet<number> {
  const found = new Set([0]);
  const note = (agent: P.AgentRef | undefined): void => {
    if (agent) found.add(agent.local);
  };
  visitStatements(body.statements, {
    statement: (s) => {
      if ('agent' in s) note(s.agent);
      if (s.op === 'find' || s.op === 'nobody' || s.op === 'demand' || s.op === 'find tie') found.add(s.local);
      if (s.op === 'other end') [s.local, s.tie].forEach((local) => found.add(local));
      if (s.op === 'write tie') found.add(s.tie);
      if (s.op === 'tie' || s.op === 'untie') [s.a, s.b].forEach(note);
      if (s.op === 'pick' && s.query.over.is !== 'cells') found.add(s.local);
    },
    query: (q) => {
      if (q.over.is !== 'cells') found.add(q.candidate);
      if (q.except !== undefined) found.add(q.except);
    },
    expr: (e) => {
      if ('agent' in e) note(e.agent);
      if (e.op === 'somebody' || e.op === 'number or 0') found.add(e.local);
      if (e.op === 'same agent' || e.op === 'tied') [e.a, e.b].forEach(note);
      if (e.op === 'tie value') found.add(e.tie);
    },
  });
  return found;
}
