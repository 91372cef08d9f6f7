import * as say from './reading-messages.ts';
import { PartParser } from './part-parser.ts';
import type * as Ast from './syntax.ts';
import { describe, LineUnreadable } from './token-stream.ts';

const TRIGGERS = ['after', 'rate', 'chance', 'when', 'on'] as const;
const PICKERS = ['nearest', 'random', 'first'] as const;

/** Reads kinds of agents with their states, messages, and interactions. */
export class AgentParser extends PartParser {
  agent(start: number): Ast.AgentPart {
    const s = this.s;
    const name = s.name('the name of the kind');
    const space = s.takeIf('on') ? s.name('the space of the kind') : undefined;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    let seats: Ast.SeatsLine | undefined;
    const part = {
      starts: [] as Ast.StartLine[],
      has: [] as Ast.HasLine[],
      derives: [] as Ast.DeriveLine[],
      states: [] as Ast.StatesPart[],
      behaviours: [] as Ast.BehaviourPart[],
      defines: [] as Ast.DefinePart[],
      routines: [] as Ast.RoutinePart[],
      reactions: [] as Ast.ReactionLine[],
    };
    s.block(() => {
      const lineStart = s.current.span.start;
      if (s.takeIf('start')) part.starts.push(this.startLine(lineStart));
      else if (s.takeIf('has')) part.has.push(this.hasLine(lineStart));
      else if (s.takeIf('derive')) part.derives.push(this.deriveLine(lineStart));
      else if (s.is('seats')) {
        if (seats) s.fail(say.seatsTwice(s.current.span));
        seats = this.seatsLine();
      } else if (s.takeIf('states')) part.states.push(this.states(lineStart));
      else if (s.takeIf('behaviour')) part.behaviours.push(this.behaviour(lineStart));
      else if (s.takeIf('define')) part.defines.push(this.define(lineStart));
      else if (s.takeIf('routine')) part.routines.push(this.routine(lineStart));
      else if (s.takeIf('on')) part.reactions.push(this.reaction(lineStart));
      else
        this.unknownLine(
          ['start', 'has', 'derive', 'seats', 'states', 'behaviour', 'define', 'routine', 'on'],
          'agent',
        );
    });
    return { is: 'agent', name, space, ...part, seats, about, span };
  }

  message(start: number): Ast.MessagePart {
    const s = this.s;
    const name = s.name('the name of the message');
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const has: Ast.HasLine[] = [];
    s.block(() => {
      const lineStart = s.current.span.start;
      if (!s.takeIf('has')) this.unknownLine(['has'], 'message');
      has.push(this.hasLine(lineStart));
    });
    return { is: 'message', name, has, about, span };
  }

  private startLine(start: number): Ast.StartLine {
    const s = this.s;
    let count: Ast.StartLine['count'];
    if (s.takeIf('from')) count = { is: 'table', file: this.file() };
    else if (s.takeIf('on', 'every', 'cell'))
      count = { is: 'every cell', where: s.takeIf('where') ? this.e.expression() : undefined };
    else count = this.e.count();
    const placing = count.is === 'every cell' ? undefined : this.st.placing();
    const facing = s.takeIf(',', 'facing') ? this.e.expression() : undefined;
    s.endOfLine();
    return { count, placing, facing, span: s.spanFrom(start) };
  }

  private seatsLine(): Ast.SeatsLine {
    const start = this.s.take().span.start;
    const value = this.e.expression();
    const span = this.s.spanFrom(start);
    this.s.endOfLine();
    return { value, span };
  }

  private reaction(start: number): Ast.ReactionLine {
    const s = this.s;
    const message = s.name('the name of a message');
    const alias = s.takeIf('as') ? s.name('the name for the message') : undefined;
    const when = s.takeIf('when') ? this.e.expression() : undefined;
    s.endOfLine();
    const span = s.spanFrom(start);
    return { message, alias, when, body: this.st.requiredBlock(span, '“on”'), span };
  }

  // States

  private states(start: number): Ast.StatesPart {
    const s = this.s;
    const name = s.name('the name of the state machine');
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const shares: Ast.StartShare[] = [];
    const states: Ast.StatePart[] = [];
    const found = s.block(() => {
      if (s.is('start') && s.ahead(1).type !== 'newline') shares.push(...this.startList());
      else states.push(this.state());
    });
    if (!found) s.report(say.missingBlock(span, '“states”'));
    return { is: 'states', name, start: shares, states, about, span };
  }

  private startList(): Ast.StartShare[] {
    const s = this.s;
    s.take();
    const shares: Ast.StartShare[] = [];
    do shares.push(this.startShare());
    while (s.takeIf(','));
    s.endOfLine();
    return shares;
  }

  private startShare(): Ast.StartShare {
    const s = this.s;
    const start = s.current.span.start;
    const made = (share: Ast.StartShare['share'], exact: boolean): Ast.StartShare => {
      const state = s.name('a state');
      const when = share === 'all' && s.takeIf('when') ? this.e.expression() : undefined;
      return { share, exact, state, when, span: s.spanFrom(start) };
    };
    if (this.takesRest()) return made('rest', false);
    const soleName = s.isType('name') && [',', '', 'when'].includes(s.ahead(1).word) && s.ahead(1).type !== 'number';
    if (soleName) return made('all', false);
    const share = this.e.small();
    return made(share, s.takeIf('of'));
  }

  private state(): Ast.StatePart {
    const s = this.s;
    const name = s.name('the name of a state');
    const about = s.endOfLine();
    const part = {
      enter: [] as Ast.Block[],
      leave: [] as Ast.Block[],
      transitions: [] as Ast.Transition[],
      start: [] as Ast.StartShare[],
      states: [] as Ast.StatePart[],
    };
    s.block(() => {
      const token = s.current;
      const isBare = s.ahead(1).type === 'newline' || s.ahead(1).type === 'string';
      if ((token.word === 'enter' || token.word === 'leave') && isBare) {
        s.take();
        s.endOfLine();
        part[token.word].push(this.st.requiredBlock(token.span, `“${token.word}”`));
      } else if (token.word === 'start' && !isBare) part.start.push(...this.startList());
      else if (TRIGGERS.some((word) => token.word === word) && !isBare)
        part.transitions.push(this.transition(token.span.start));
      else if (isBare) part.states.push(this.state());
      else this.unknownLine(['after', 'rate', 'chance', 'when', 'on', 'enter', 'leave', 'start'], 'state');
    });
    return { name, ...part, about, span: name.span };
  }

  private transition(start: number): Ast.Transition {
    const s = this.s;
    const trigger = s.takeIf('on', 'arrival') ? 'on arrival' : TRIGGERS.find((word) => s.is(word))!;
    if (trigger !== 'on arrival') s.take();
    let message: Ast.Name | undefined;
    let alias: Ast.Name | undefined;
    let value: Ast.Expr = { is: 'number', value: 1, span: s.current.span };
    if (trigger === 'on') {
      message = s.name('the name of a message');
      alias = s.takeIf('as') ? s.name('the name for the message') : undefined;
    } else if (trigger !== 'on arrival') value = this.e.expression();
    const when = trigger !== 'when' && s.takeIf('when') ? this.e.expression() : undefined;
    if ((trigger === 'on' || trigger === 'on arrival') && s.takeIf('chance')) value = this.e.expression();
    s.expect(':', 'the target of a transition stands after a colon: “after 21 days: Adult”');
    const targets: Ast.Share[] = [];
    do targets.push(this.share());
    while (s.takeIf(','));
    s.endOfLine();
    const span = s.spanFrom(start);
    const block: Ast.Statement[] = [];
    s.block(() => block.push(this.st.statement()));
    return { trigger, value, message, alias, when, targets, block, span };
  }

  /** `rest` before a state is the share that is left; alone it is a name like any other. */
  private takesRest(): boolean {
    return this.s.ahead(1).type === 'name' && this.s.ahead(1).word !== 'when' && this.s.takeIf('rest');
  }

  private share(): Ast.Share {
    const s = this.s;
    const start = s.current.span.start;
    if (this.takesRest()) return { share: 'rest', state: s.name('a state'), span: s.spanFrom(start) };
    const alone = s.isType('name') && s.ahead(1).type !== 'name';
    if (alone) return { share: 'rest', state: s.name('a state'), span: s.spanFrom(start) };
    const share = this.e.small();
    return { share, state: s.name('a state'), span: s.spanFrom(start) };
  }

  // Interactions

  private role(): Ast.Role {
    const start = this.s.current.span.start;
    const name = this.s.name('the name of a role');
    return { name, kind: this.s.name('the kind of a role: “hunter Kestrel”'), span: this.s.spanFrom(start) };
  }

  interaction(start: number): Ast.InteractionPart {
    const s = this.s;
    const name = s.name('the name of the interaction');
    s.expect(':', 'an interaction names its two roles: “interaction hunt: hunter Kestrel, prey Vole”');
    const first = this.role();
    s.expect(',', 'an interaction has two roles, with a comma between them');
    const roles = [first, this.role()] as const;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    let partner: Ast.Partner | undefined;
    let oncePerPair = false;
    let where: Ast.Expr | undefined;
    let luck: Ast.InteractionPart['luck'];
    const body: Ast.Statement[] = [];
    const found = s.block(() => {
      if (!partner && body.length === 0) {
        partner = this.partner();
        oncePerPair = s.takeIf(',', 'each', 'pair', 'once');
        s.endOfLine();
      } else if (!where && !luck && body.length === 0 && s.takeIf('where')) {
        where = this.e.expression();
        s.endOfLine();
      } else if (!luck && body.length === 0 && (s.is('chance') || s.is('rate')) && s.ahead(1).word !== '=') {
        const is = s.take().word as 'chance' | 'rate';
        luck = { is, value: this.e.expression() };
        s.endOfLine();
      } else body.push(this.st.statement());
    });
    if (!found) s.report(say.missingBlock(span, 'an interaction'));
    if (!partner) {
      if (found && s.diagnostics.length === 0) s.report(say.missingPartner(span));
      throw new LineUnreadable();
    }
    return { is: 'interaction', name, roles, partner, oncePerPair, where, luck, body, about, span };
  }

  private partnerCount(): number {
    const { value, span } = this.s.take();
    if (!Number.isInteger(value) || value < 1) this.s.report(say.partnerCount(span, value));
    return value;
  }

  private partner(): Ast.Partner {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('mixing')) return this.mixing(start);
    const pick = PICKERS.find((word) => s.is(word));
    if (pick) s.take();
    const howMany = pick === 'random' && s.isType('number') ? this.partnerCount() : undefined;
    const reach = this.partnerReach();
    if (!s.is('with')) return { is: 'reach', reach, pick, howMany, span: s.spanFrom(start) };
    s.take();
    const most = s.is('least') ? 'least' : 'most';
    if (!s.takeIf('most') && !s.takeIf('least'))
      s.fail(say.missingWord(s.placeForMissing(), 'most', '“with most …” or “with least …”', describe(s.current)));
    return { is: 'reach', reach, pick: most, by: this.e.sum(), span: s.spanFrom(start) };
  }

  private partnerReach(): Ast.Reach {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('anyone')) return { is: 'anyone', span: s.spanFrom(start) };
    return this.e.queries.reach() ?? s.fail(say.missingPartner(s.placeForMissing()));
  }

  private mixing(start: number): Ast.Partner {
    const s = this.s;
    const count = this.e.sum();
    const sources: Ast.MixingSource[] = [];
    if (s.takeIf(':')) {
      do {
        const sourceStart = s.current.span.start;
        const share = this.shareOf();
        sources.push({ share, reach: this.partnerReach(), span: s.spanFrom(sourceStart) });
      } while (s.takeIf(','));
    }
    return { is: 'mixing', count, sources, span: s.spanFrom(start) };
  }
}
