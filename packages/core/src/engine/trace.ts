/** What an agent went through in a step, in its order: told by code that was compiled to tell. Sites are places in the text. */
export type TraceEvent =
  | { readonly is: 'rule'; readonly rule: number }
  | { readonly is: 'condition'; readonly site: number; readonly holds: boolean }
  | { readonly is: 'draw'; readonly site: number; readonly value: number }
  | { readonly is: 'found'; readonly site: number; readonly kind: number; readonly number: number }
  | {
      readonly is: 'write';
      readonly site: number;
      readonly kind: number;
      readonly number: number;
      readonly column: number;
      readonly value: number;
    }
  | {
      readonly is: 'become';
      readonly kind: number;
      readonly number: number;
      readonly machine: number;
      readonly state: number;
    }
  | { readonly is: 'act'; readonly what: 'turned' | 'moved' | 'created' | 'sent' | 'changed'; readonly site: number }
  | { readonly is: 'removed'; readonly kind: number; readonly number: number };

/** Longest story of one step that is kept. */
const MOST_EVENTS = 400;

/** Listens to one agent: to its own turns, and to what others do to it. */
export class Trace {
  events: TraceEvent[] = [];
  private kind = -1;
  private number = -1;
  private rule = -1;
  private isOwn = false;

  listenTo(kind: number, number: number): void {
    this.kind = kind;
    this.number = number;
    this.events = [];
  }

  /** Says whether the turn that begins is of the agent. */
  begin(rule: number, kind: number, number: number): boolean {
    this.rule = rule;
    this.isOwn = kind === this.kind && number === this.number;
    if (this.isOwn) this.note({ is: 'rule', rule });
    return this.isOwn;
  }

  concerns(kind: number, number: number): boolean {
    if (kind !== this.kind || number !== this.number) return false;
    const last = this.events.findLast((event) => event.is === 'rule');
    if (!this.isOwn && last?.rule !== this.rule) this.note({ is: 'rule', rule: this.rule });
    return true;
  }

  note(event: TraceEvent): void {
    if (this.events.length < MOST_EVENTS) this.events.push(event);
  }
}
