import type { Rgb } from '@vole/core';
import type { LiveHandle } from '../simulation/live-handle.ts';
import type { FieldFrame } from '../simulation/protocol.ts';
import { robustRange } from '../simulation/robust-range.ts';
import type { Camera } from './camera.ts';

/** What two pictures side by side have in common: the part of the space, and the scales of fields. */
export class SharedView {
  private camera: Camera | undefined;
  /** The runs side by side, each with what draws it anew. */
  private readonly stages = new Map<LiveHandle, () => void>();

  join(source: LiveHandle, redraw: () => void): void {
    this.stages.set(source, redraw);
  }

  leave(source: LiveHandle): void {
    this.stages.delete(source);
  }

  /** The part of the space that the modeler chose; the whole if there is none. */
  get chosen(): Camera | undefined {
    return this.camera;
  }

  choose(camera: Camera | undefined): void {
    const { camera: before } = this;
    this.camera = camera;
    if (before?.centreX === camera?.centreX && before?.centreY === camera?.centreY && before?.scale === camera?.scale)
      return;
    if (this.stages.size > 1) for (const redraw of this.stages.values()) redraw();
  }

  /** The range of what colours a kind, over all runs side by side. */
  rangeOf(name: string, own: Float32Array): { low: number; high: number } {
    const ranges = [...this.stages.keys()].flatMap(({ current: { plan, frame } }) => {
      const colours = frame?.kinds[plan?.kinds.findIndex((kind) => kind.name === name) ?? -1]?.colours;
      return colours && colours.length > 0 ? [robustRange(colours)] : [];
    });
    return ranges.length < 2
      ? robustRange(own)
      : { low: Math.min(...ranges.map(({ low }) => low)), high: Math.max(...ranges.map(({ high }) => high)) };
  }

  /** Colours by level of a field, on the scale that is common to the runs side by side. */
  coloursOf(name: string, { low, high }: FieldFrame, colours: readonly Rgb[]): readonly Rgb[] {
    const all = [...this.stages.keys()].flatMap(
      ({ current: { plan, frame } }) =>
        frame?.fields[plan?.fields.findIndex((field) => field.name === name) ?? -1] ?? [],
    );
    const from = Math.min(low, ...all.map((field) => field.low));
    const to = Math.max(high, ...all.map((field) => field.high));
    if (from === low && to === high) return colours;
    return colours.map(
      (_, level) =>
        colours[Math.round(((low + (level / 255) * (high - low) - from) / (to - from)) * 255)] ?? colours[0]!,
    );
  }
}
