import { describe, expect, it } from 'vitest';
import type { GeneratedRun } from '../src/index.ts';
import { actByHand, formatModel, loadModel, ModelError, modelSections } from '../src/index.ts';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, interpretedRun, meanOverSeeds, planOf, rowsInBoth } from './models.ts';

/** What boarding, riding and alighting mean, and what is said of vehicles that cannot be. */

const CLOCK = 'clock\n  step 1 minute\n  end after 40 steps\n';
const YARD = 'space Yard: plane 100 m by 100 m\n';

const rowsOf = (parts: string, steps: number): number[][] => rowsInBoth(`model Case\n${CLOCK}${parts}\n`, steps);

describe('riding', () => {
  it('takes who is aboard along, by every way of moving, and sets it down where it is', () => {
    const [aboard, rider, cart] = rowsOf(
      `${YARD}agent Cart
  start 1 at (10 m, 10 m), facing 90 deg
  seats 1
  behaviour roll
    if step < 2
      move by 5 m
    else if now < 4 minutes
      move to (50 m, 50 m)
    else
      move toward (50 m, 90 m) by 10 m
agent Vole
  start 1 at (0 m, 0 m)
  behaviour ride
    if now < 5 minutes
      board first Cart
    else
      alight
order
  ride in turn
  roll in turn
measure aboard = count Vole where it.vehicle is not nobody
measure rider = (sum of (it.x + 1000 * it.y) over Vole) / 1 m
measure cart = (sum of (it.x + 1000 * it.y) over Cart) / 1 m`.replace('step < 2', 'now < 2 minutes'),
      8,
    ) as [number[], number[], number[]];
    expect(aboard).toEqual([0, 1, 1, 1, 1, 1, 0, 0, 0]);
    expect(rider.slice(1, 6)).toEqual(cart.slice(1, 6));
    expect(cart.slice(0, 6)).toEqual([10010, 10015, 10020, 50050, 50050, 60050]);
    expect(rider.slice(6)).toEqual([60050, 60050, 60050]);
  });

  it('takes along who rides in what rides', () => {
    const [far] = rowsOf(
      `${YARD}agent Raft
  start 1 at (10 m, 10 m), facing 90 deg
  seats 1
  behaviour drift
    move by 5 m
agent Cart
  start 1 at (0 m, 0 m)
  seats 3
  behaviour embark
    board first Raft
agent Vole
  start 3 at (90 m, 90 m)
  behaviour ride
    board first Cart
order
  embark in turn
  ride in turn
  drift in turn
measure far = (sum of it.x over Vole) / 1 m`,
      3,
    );
    expect(far).toEqual([270, 45, 60, 75]);
  });

  it('fills the seats one by one and leaves the others behind', () => {
    const [aboard, left, behind, seats] = rowsOf(
      `agent Cart
  start 2
  seats number + 1
agent Vole
  start 9
  has behind = 0
  behaviour ride
    board first Cart where seats left of it > 0
    else
      behind += 1
order
  ride in turn
measure aboard = sum of (riders of it) over Cart
measure left = sum of (seats left of it) over Cart
measure behind = sum of it.behind over Vole
measure seats = sum of (seats of it) over Cart`,
      2,
    );
    expect([aboard, left, behind, seats]).toEqual([
      [0, 5, 5],
      [5, 0, 0],
      // In the second step those who ride look for a seat too, find none, and stay where they sit.
      [0, 4, 13],
      [5, 5, 5],
    ]);
  });

  it('changes from one vehicle to another, and stays where there is no seat in the other', () => {
    const [first, second] = rowsOf(
      `agent Cart
  start 2
  seats if number is 1 then 3 else 1
agent Vole
  start 3
  behaviour ride
    if vehicle is nobody
      board first Cart where it.number is 1
    else
      board first Cart where it.number is 2
order
  ride in fixed order
measure in_one = count Vole where any Cart carrying it where number is 1
measure in_two = count Vole where any Cart carrying it where number is 2`.replace(/where number/g, 'where it.number'),
      3,
    );
    expect([first, second]).toEqual([
      [0, 3, 2, 2],
      [0, 0, 1, 1],
    ]);
  });

  it('ends when either is removed, and the other stays where it was', () => {
    const [voles, aboard, at] = rowsOf(
      `${YARD}agent Cart
  start 1 at (10 m, 10 m)
  seats 2
  behaviour roll
    move by 0 m
    if now >= 2 minutes
      remove self
agent Vole
  start 2 at (0 m, 0 m)
  behaviour ride
    board first Cart
    if number is 2 and now >= 1 minute
      remove self
order
  ride in fixed order
  roll in turn
measure voles = count Vole
measure aboard = count Vole where it.vehicle is not nobody
measure at_ = (sum of it.x over Vole) / 1 m`,
      4,
    );
    expect([voles, aboard, at]).toEqual([
      [2, 2, 1, 1, 1],
      [0, 2, 1, 0, 0],
      [0, 20, 10, 10, 10],
    ]);
  });

  it('is asked for from the vehicle, from the rider and from those beside it', () => {
    const rows = rowsOf(
      `agent Cart
  start 2
  seats 3
  has load_ = 0
  behaviour take_up
    repeat at most 9 times
      until seats left of self is 0
      take on Vole where it.vehicle is nobody with least it.number
    for each v in Vole aboard
      load_ += v.number
agent Vole
  start 7
  has beside = 0
  behaviour look
    beside = count Vole aboard
    with c = vehicle
      beside += 10 * riders of c
order
  take_up in fixed order
  look in turn
measure load_ = sum of it.load_ over Cart
measure beside = sum of it.beside over Vole
measure of_second = sum of (count Vole aboard it where it.number > 4) over Cart`,
      1,
    );
    expect(rows).toEqual([
      [0, 21],
      [0, 6 * 2 + 6 * 30],
      [0, 2],
    ]);
  });

  it('stops the run where somebody aboard goes by itself', () => {
    const plan = planOf(
      `model Case\n${CLOCK}${YARD}agent Cart\n  start 1 at (10 m, 10 m)\n  seats 2\nagent Vole\n  start 1 at (0 m, 0 m)\n  behaviour go\n    board first Cart\n    move by 1 m\norder\n  go in turn\n`,
    );
    for (const make of [compiledRun, interpretedRun]) {
      const { run } = make(plan);
      let told: unknown;
      try {
        run.next();
      } catch (error) {
        told = error;
      }
      expect(told).toBeInstanceOf(ModelError);
      expect((told as ModelError).diagnostic).toMatchObject({
        code: 'run/aboard',
        message: 'In step 1, Vole.go: Vole 1 rides in a vehicle and cannot go by itself.',
      });
    }
  });

  it('follows a vehicle that is moved by hand; who is moved by hand has left it', () => {
    const plan = planOf(
      `model Case\n${CLOCK}${YARD}agent Cart\n  start 1 at (10 m, 10 m)\n  seats 2\nagent Vole\n  start 2 at (0 m, 0 m)\n  behaviour go when now < 1 minute\n    board first Cart\norder\n  go in turn\nmeasure far = (sum of it.x over Vole) / 1 m\nmeasure aboard = count Vole where it.vehicle is not nobody\n`,
    );
    const { run, executable } = compiledRun(plan);
    const made = executable as GeneratedRun;
    run.next();
    expect(actByHand(run, made, { is: 'move', kind: 0, number: 1, x: 70, y: 20 }, 0)).toBeUndefined();
    run.next();
    expect([run.valueAt(2, 0), run.valueAt(2, 1)]).toEqual([140, 2]);
    expect(actByHand(run, made, { is: 'move', kind: 1, number: 2, x: 5, y: 5 }, 0)).toBeUndefined();
    run.next();
    expect([run.valueAt(3, 0), run.valueAt(3, 1)]).toEqual([75, 1]);
  });
});

/** Voles come to a pier at random and wait for the next ferry, which has seats for all. */
const pier = (ferries: string): string => `model Pier
clock
  step 0.1 minutes
  end after 3000 minutes
agent Ferry
  seats 1000
  behaviour leave
    remove self
agent Vole
  has came = now
  behaviour embark
    board first Ferry
    if vehicle is not nobody
      add now - came to waits
      remove self
tally waits, kept
order
  embark in turn
  leave in turn
timeline
  every 1 step: create poisson(0.05) Vole
  ${ferries}
measure wait = (mean of waits) / 1 minute
`;

describe('waiting at a pier', () => {
  const wait = (text: string): { mean: number; standardError: number } =>
    meanOverSeeds(planOf(text), 12, (run) => run.valueAt(run.rowCount - 1, 0));

  // Arrivals are spread evenly over the steps between two ferries; who comes in the step of one does not wait.
  it('is half the headway on average, less half a step, where ferries are evenly spaced', () => {
    const { mean, standardError } = wait(pier('every 10 minutes: create 1 Ferry'));
    expect(standardError).toBeLessThan(0.1);
    expect(Math.abs(mean - 4.95)).toBeLessThan(4 * standardError);
  });

  // From any step on the next ferry comes after (1 - p) / p steps in the mean, p = 0.01, however long ago the last one was.
  it('is a whole headway where they come at random', () => {
    const { mean, standardError } = wait(pier('every 1 step: create (if chance(0.01) then 1 else 0) Ferry'));
    expect(standardError).toBeLessThan(0.5);
    expect(Math.abs(mean - 9.9)).toBeLessThan(4 * standardError);
  });
});

describe('vehicles that cannot be', () => {
  const text = (body: string, order = 'in turn', more = ''): string =>
    `model B\n${CLOCK}${YARD}space Pond: plane 100 m by 100 m\nagent Cart on Yard\n  start 3 anywhere\n  seats 2\nagent Boat on Pond\n  start 1 anywhere\n  seats 2\nagent Stone on Yard\n  start 3 anywhere\nagent Hen on Yard\n  start 4 anywhere\n  has e = 1\n  behaviour go\n    ${body}\n    e += 1\norder\n  go ${order}\n${more}measure n = sum of it.e over Hen\n`;

  it.each([
    ['nobody has a seat', 'board nearest Stone', 'vehicle/seats', 'board nearest Stone', /“Stone” has no seats/],
    ['one of its own kind', 'board nearest Hen', 'vehicle/circle', 'board nearest Hen', /cannot ride in what is a Hen/],
    ['on another space', 'board first Boat', 'type/other-space', 'board first Boat', /lies on Pond/],
    ['what is no agent', 'board 3', 'type/expected', '3', /An agent is expected/],
    ['who never boards', 'set down nearest Stone', 'vehicle/never', 'set down nearest Stone', /No Stone ever boards/],
    ['nobody aboard, ever', 'e = count Hen aboard', 'vehicle/never', 'aboard', /No Hen ever boards/],
    [
      'which of two vehicles',
      'board first Cart\n    board first Van\n    if vehicle is nobody\n      e = 2',
      'vehicle/several',
      'vehicle',
      /vehicles of several kinds: Cart, Van/,
    ],
    [
      'seats of who may be nobody',
      'board first Cart\n    e = seats left of vehicle',
      'type/maybe-nobody',
      'vehicle',
      /may be nobody/,
    ],
    [
      'a vehicle that is set',
      'board first Cart\n    vehicle = nobody',
      'name/cannot-set',
      'vehicle',
      /board and alight/,
    ],
    ['a word short', 'take nearest Hen', 'syntax/missing', 'nearest', /“on” is missing/],
  ] as const)('%s', (_, body, code, piece, says) => {
    const whole = text(body, 'in turn', 'agent Van on Yard\n  start 2 anywhere\n  seats 4\n');
    const { diagnostics } = checkModel(whole);
    const found = diagnostics.filter((d) => d.code === code);
    expect(diagnostics.map((d) => d.code)).toContain(code);
    expect(found.map((d) => whole.slice(d.span.start, d.span.end))).toContain(piece);
    expect(found.map((d) => d.message).join(' ')).toMatch(says);
  });

  it('carts that ride in rafts that ride in carts', () => {
    const circle = `model C\n${CLOCK}${YARD}agent Cart\n  start 1 anywhere\n  seats 2\n  behaviour a\n    board first Raft\nagent Raft\n  start 1 anywhere\n  seats 2\n  behaviour b\n    board first Cart\norder\n  a in turn\n  b in turn\nmeasure n = count Cart\n`;
    const found = checkModel(circle).diagnostics.filter((d) => d.code === 'vehicle/circle');
    expect(found.map((d) => d.message)).toEqual([
      'Cart would ride in what rides in it: Cart in Raft in Cart.',
      'Raft would ride in what rides in it: Raft in Cart in Raft.',
    ]);
  });

  it('finds a circle also where a kind boards others besides', () => {
    const circle = `model C\n${CLOCK}${YARD}agent Cart\n  start 1 anywhere\n  seats 2\n  behaviour a\n    board first Van\n    board first Raft\nagent Van\n  start 1 anywhere\n  seats 2\nagent Raft\n  start 1 anywhere\n  seats 2\n  behaviour b\n    board first Cart\norder\n  a in turn\n  b in turn\nmeasure n = count Cart\n`;
    const found = checkModel(circle).diagnostics.filter((d) => d.code === 'vehicle/circle');
    expect(found.map((d) => d.message)).toEqual([
      'Cart would ride in what rides in it: Cart in Raft in Cart.',
      'Raft would ride in what rides in it: Raft in Cart in Raft.',
    ]);
  });

  it.each(['board first Cart', 'let c = first Cart\n    alight\n    board first Cart'])(
    'seats taken all at once, with a repair: %s',
    (body) => {
      const whole = text(body, 'all at once');
      const [found] = checkModel(whole).diagnostics.filter((d) => d.code === 'order/turns');
      const [edit] = found!.fixes![0]!.edits;
      const mended = whole.slice(0, edit!.span.start) + edit!.text + whole.slice(edit!.span.end);
      expect(checkModel(mended).diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
    },
  );

  it('doubts seats that nobody ever takes', () => {
    const found = checkModel(text('e += 1')).diagnostics.filter((d) => d.code === 'doubt/never');
    expect(found.map((d) => d.message)).toContain('“Cart” has seats, and nobody ever boards it.');
  });
});

describe('texts with vehicles', () => {
  const whole = `model Ferries\n${CLOCK}${YARD}agent Ferry\n  start 2 anywhere\n  seats   12\n  behaviour go\n    move by 3 m\n    take   on first Vole within 2 m where it.vehicle is nobody\n    else\n      set   down first Vole aboard self\nagent Vole\n  start 3 anywhere\n  behaviour ride\n    if any Ferry carrying self\n      alight\norder\n  go in turn\n  ride in turn\nmeasure free = sum of (seats left of it) over Ferry\n`;

  it('are formatted', () => {
    const formatted = formatModel(whole);
    expect(formatted).toContain('\n  seats 12\n');
    expect(formatted).toContain('\n    take on first Vole within 2 m where it.vehicle is nobody\n    else\n');
    expect(formatted).toContain('\n      set down first Vole aboard self\n');
  });

  it('are told in reports', () => {
    const words = JSON.stringify(modelSections(loadModel(whole).loaded!, whole));
    expect(words).toContain('They are vehicles with ');
    expect(words).toContain('They ride in agents of the kind Ferry.');
    expect(words).toContain('take others on');
  });
});
