/**
 * What an open map file holds: points, ways through them, areas around them, named places. Plain data, which can be stored and sent to a worker;
 * lanes are made of it by `laneNetwork`.
 */
export interface MapFile {
  /** Of each point: degrees of longitude and latitude, or metres to the right and up. */
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Whether the coordinates can only be metres, as they lie beyond all degrees. */
  readonly isInMetres: boolean;
  /** Way w goes through the points `wayPoints[wayStart[w]]` to before `wayPoints[wayStart[w + 1]]`. */
  readonly wayStart: Int32Array;
  readonly wayPoints: Int32Array;
  /** Index in `wayKinds`. */
  readonly wayKind: Uint16Array;
  readonly wayKinds: readonly string[];
  /** 1 where a way may be gone in the order of its points only. */
  readonly oneWay: Uint8Array;
  /** Metres a second; not a number where the file gives none. */
  readonly speed: Float64Array;
  readonly areas: readonly MapArea[];
  readonly places: readonly MapPlace[];
  /** Points that ways and areas name and the file does not hold. */
  readonly missing: number;
}

/** A polygon: a building, water, a green. */
export interface MapArea {
  readonly name?: string;
  readonly kind: string;
  /** Points around it; the last joins the first. */
  readonly outline: Int32Array;
}

export interface MapPlace {
  readonly name: string;
  readonly kind: string;
  readonly point: number;
}

/** Why a map file cannot be read, and what to do. */
export class MapProblem extends Error {
  constructor(
    message: string,
    readonly hint: string,
    readonly line?: number,
  ) {
    super(message);
  }
}

/** A file beside a model: its text, a map that was read, or why it could not be. */
export type ModelFile = string | MapFile | MapProblem;

/** A map file while it is read. */
export class MapDraft {
  private readonly x: number[] = [];
  private readonly y: number[] = [];
  private readonly wayStart: number[] = [0];
  private readonly wayPoints: number[] = [];
  private readonly wayKind: number[] = [];
  private readonly kinds = new Map<string, number>();
  private readonly oneWay: number[] = [];
  private readonly speed: number[] = [];
  private readonly areas: MapArea[] = [];
  private readonly places: MapPlace[] = [];
  private isInMetres = false;
  missing = 0;

  /** @returns its number */
  point(x: number, y: number): number {
    this.isInMetres ||= Math.abs(x) > 180 || Math.abs(y) > 90;
    this.x.push(x);
    return this.y.push(y) - 1;
  }

  way(points: readonly number[], kind: string, oneWay: boolean, speed: number | undefined): void {
    if (points.length < 2) return;
    for (const point of points) this.wayPoints.push(point);
    this.wayStart.push(this.wayPoints.length);
    const known = this.kinds.get(kind) ?? this.kinds.size;
    this.kinds.set(kind, known);
    this.wayKind.push(known);
    this.oneWay.push(oneWay ? 1 : 0);
    this.speed.push(speed ?? NaN);
  }

  area(points: readonly number[], kind: string, name: string | undefined): void {
    const isClosed = points.length > 1 && points[0] === points[points.length - 1];
    const outline = Int32Array.from(isClosed ? points.slice(0, -1) : points);
    if (outline.length > 2) this.areas.push({ name, kind, outline });
  }

  place(point: number, kind: string, name: string): void {
    this.places.push({ name, kind, point });
  }

  finish(): MapFile {
    return {
      x: Float64Array.from(this.x),
      y: Float64Array.from(this.y),
      isInMetres: this.isInMetres,
      wayStart: Int32Array.from(this.wayStart),
      wayPoints: Int32Array.from(this.wayPoints),
      wayKind: Uint16Array.from(this.wayKind),
      wayKinds: [...this.kinds.keys()],
      oneWay: Uint8Array.from(this.oneWay),
      speed: Float64Array.from(this.speed),
      areas: this.areas,
      places: this.places,
      missing: this.missing,
    };
  }
}
