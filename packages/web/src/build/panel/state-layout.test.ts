import { describe, expect, it } from 'vitest';
import type { StateNode } from './state-graph.ts';
import type { Point } from './state-layout.ts';
import { centreOf, courseOf, extentOf, labelOf, linesOfLabel, NODE } from './state-layout.ts';

const node = (name: string, column: number, row: number): StateNode => ({
  name,
  group: undefined,
  column,
  row,
  start: 0,
});
const [left, right, below] = [node('Left', 0, 0), node('Right', 1, 0), node('Below', 0, 1)];

/** Whether a place lies on the edge of a state, or a little outside. */
function isAtEdge({ x, y }: Point, of: StateNode): boolean {
  const middle = centreOf(of);
  const out = Math.max(Math.abs(x - middle.x) - NODE.width / 2, Math.abs(y - middle.y) - NODE.height / 2);
  return out >= -1e-9 && out <= 5;
}

describe('the layout of a picture of states', () => {
  it('has room for all states, each within it', () => {
    const nodes = [left, right, below];
    const { width, height } = extentOf({ nodes } as never);
    for (const { x, y } of nodes.map(centreOf)) {
      expect(x - NODE.width / 2).toBeGreaterThan(0);
      expect(x + NODE.width / 2).toBeLessThan(width);
      expect(y + NODE.height / 2).toBeLessThan(height);
    }
    expect(extentOf({ nodes: [] } as never).width).toBeGreaterThan(NODE.width);
  });

  it('leads arrows from edge to edge, there and back on different ways, several side by side', () => {
    for (const [from, to] of [
      [left, right],
      [right, left],
      [left, below],
      [below, right],
    ] as const) {
      const { start, end } = courseOf(from, to, 0);
      expect([isAtEdge(start, from), isAtEdge(end, to)]).toEqual([true, true]);
    }
    const bends = [courseOf(left, right, 0), courseOf(left, right, 1), courseOf(right, left, 0)].map(
      ({ bend }) => bend.y,
    );
    expect(new Set(bends).size).toBe(3);
    expect(Math.sign(bends[0]! - centreOf(left).y)).toBe(-Math.sign(bends[2]! - centreOf(left).y));
  });

  it('leads an arrow to its own state over its head, and one from any state down to it', () => {
    const own = courseOf(left, left, 0);
    expect(own.bend.y).toBeLessThan(centreOf(left).y - NODE.height / 2);
    expect(isAtEdge(own.start, left) && isAtEdge(own.end, left)).toBe(true);
    const any = courseOf(undefined, right, 0);
    expect(any.start.x).toBe(any.end.x);
    expect(any.start.y).toBeLessThan(any.end.y);
    expect(courseOf(undefined, right, 1).start.x).not.toBe(any.start.x);
  });

  it('breaks words between lines, and leaves what is too much to the title', () => {
    expect(linesOfLabel('after 3 steps when 1 > 0', 16)).toEqual(['after 3 steps', 'when 1 > 0']);
    expect(linesOfLabel('extraordinarily_long_condition', 16)).toEqual(['extraordinarily_long_condition']);
    const long = linesOfLabel('a bb ccc dddd eeeee ffffff ggggggg hhhhhhhh', 6);
    expect([long.length, long[3]!.endsWith('…')]).toEqual([4, true]);
  });

  it('puts a label on the outer side of its curve', () => {
    const over = courseOf(left, right, 0);
    const label = labelOf('chance 0.1', over);
    expect(label.anchor).toBe('middle');
    expect(Math.sign(label.top - over.start.y)).toBe(Math.sign(over.bend.y - over.start.y));
    for (const course of [courseOf(left, below, 0), courseOf(below, left, 0)]) {
      const beside = labelOf('chance 0.1', course);
      const isRight = course.bend.x > (course.start.x + course.end.x) / 2;
      expect(beside.anchor).toBe(isRight ? 'start' : 'end');
      expect(beside.x > course.start.x).toBe(isRight);
    }
  });
});
