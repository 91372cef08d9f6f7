import type { Goal, Wayfinder } from './wayfinder.ts';

const NUMBERS = 4;
const PLACES = 4;

/**
 * Who is on the way, by a number of each: their goals, and what was found of their ways before, so that it is found again; nothing but time depends on it. In columns, as those of
 * many are gone through in every step.
 */
export class Travellers {
  private finders: (Wayfinder | undefined)[] = [];
  private goals: (Goal | undefined)[] = [];
  /** Of each by turns: the place that was asked for, costs of the ways over both ends of a lane, NaN where they are not known. */
  private numbers = new Float64Array(0);
  /** Of each by turns: the lane that one has come to, that of the goal, that of which the costs are known, -1 where there is none; the place on the way where one was last, or 0. */
  private lanes = new Int32Array(0);

  goalOf(traveller: number): Goal {
    return this.goals[traveller]!;
  }

  isBoundFor(traveller: number, finder: Wayfinder, x: number, y: number): boolean {
    const at = traveller * NUMBERS;
    return this.finders[traveller] === finder && this.numbers[at] === x && this.numbers[at + 1] === y;
  }

  setOut(traveller: number, finder: Wayfinder, goal: Goal): void {
    this.ensure(traveller);
    this.finders[traveller] = finder;
    this.goals[traveller] = goal;
    this.numbers[traveller * NUMBERS] = goal.askedX;
    this.numbers[traveller * NUMBERS + 1] = goal.askedY;
    this.lanes[traveller * PLACES + 1] = goal.lane;
    this.lanes[traveller * PLACES + 2] = -1;
    this.lanes[traveller * PLACES + 3] = 0;
  }

  /** The lane that one has come to, if that is known. */
  laneOf(traveller: number): number {
    return this.lanes[traveller * PLACES] ?? -1;
  }

  come(traveller: number, lane: number): void {
    this.lanes[traveller * PLACES] = lane;
  }

  goalLane(traveller: number): number {
    return this.lanes[traveller * PLACES + 1]!;
  }

  /** The place on the way where one was last, among ways that are kept; 0 where that is not known. */
  placeOf(traveller: number): number {
    return this.lanes[traveller * PLACES + 3]!;
  }

  keepPlace(traveller: number, place: number): void {
    this.lanes[traveller * PLACES + 3] = place;
  }

  /** What is known of ways was forgotten, and with it all places on them. */
  forgetPlaces(): void {
    for (let at = 3; at < this.lanes.length; at += PLACES) this.lanes[at] = 0;
  }

  /** Cost of the way over an end of a lane, 0 its first and 1 its second; NaN if it is not known. */
  costOver(traveller: number, lane: number, end: 0 | 1): number {
    const at = traveller * PLACES + 2;
    if (this.lanes[at] !== lane) {
      this.lanes[at] = lane;
      this.numbers[traveller * NUMBERS + 2] = this.numbers[traveller * NUMBERS + 3] = NaN;
    }
    return this.numbers[traveller * NUMBERS + 2 + end]!;
  }

  keepCost(traveller: number, end: 0 | 1, cost: number): number {
    return (this.numbers[traveller * NUMBERS + 2 + end] = cost);
  }

  private ensure(traveller: number): void {
    const count = this.lanes.length / PLACES;
    if (traveller < count) return;
    const wanted = Math.max(64, traveller + 1, 2 * count);
    const numbers = new Float64Array(wanted * NUMBERS);
    numbers.set(this.numbers);
    const lanes = new Int32Array(wanted * PLACES).fill(-1);
    lanes.set(this.lanes);
    this.numbers = numbers;
    this.lanes = lanes;
    // One after another, so that the list stays a plain one.
    while (this.goals.length < wanted) {
      this.goals.push(undefined);
      this.finders.push(undefined);
    }
  }
}
