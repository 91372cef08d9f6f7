/** What the courses of a chart are held against: one height, or one at each of some steps. */
export interface ChartLevel {
  readonly name: string;
  /** One height for the whole chart, or as many as there are steps. */
  readonly heights: readonly number[];
  readonly steps?: readonly number[];
}
