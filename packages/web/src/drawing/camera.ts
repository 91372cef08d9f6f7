/** Which part of a space is on the picture. World: x to the right, y up. Picture: pixels, y down. */
export interface Camera {
  readonly centreX: number;
  readonly centreY: number;
  /** Pixels a unit of length. */
  readonly scale: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A space as it lies in the world. */
export interface Ground extends Size {
  /** Least x and y of its edge; 0 if nothing is said. Cells of grids are centred on whole numbers, so theirs lies half a cell lower. */
  readonly low?: number;
}

/** What lies over the picture along its sides, in pixels: cards, buttons. */
export interface Insets {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

export const NO_INSETS: Insets = { left: 0, right: 0, top: 0, bottom: 0 };
/** Share of the free part that the space takes up. */
const FILLED = 0.97;
/** Pixels that are left free at least, however much lies over the picture. */
const LEAST_FREE = 80;

/** The whole space in the middle of the part of the picture that is left free. */
export function fitCamera(space: Ground, picture: Size, { left, right, top, bottom }: Insets = NO_INSETS): Camera {
  const free = {
    width: Math.max(LEAST_FREE, picture.width - left - right),
    height: Math.max(LEAST_FREE, picture.height - top - bottom),
  };
  const scale = Math.min(free.width / Math.max(space.width, 1e-9), free.height / Math.max(space.height, 1e-9)) * FILLED;
  const { low = 0 } = space;
  return {
    centreX: low + space.width / 2 - (left - right) / 2 / scale,
    centreY: low + space.height / 2 + (top - bottom) / 2 / scale,
    scale,
  };
}

export function toPicture(camera: Camera, picture: Size, x: number, y: number): { x: number; y: number } {
  return {
    x: picture.width / 2 + (x - camera.centreX) * camera.scale,
    y: picture.height / 2 - (y - camera.centreY) * camera.scale,
  };
}

export function toWorld(camera: Camera, picture: Size, x: number, y: number): { x: number; y: number } {
  return {
    x: camera.centreX + (x - picture.width / 2) / camera.scale,
    y: camera.centreY - (y - picture.height / 2) / camera.scale,
  };
}

/** Closer or further by a factor, with the point under the pointer staying where it is. */
export function zoomAt(camera: Camera, picture: Size, x: number, y: number, factor: number, fitScale: number): Camera {
  const at = toWorld(camera, picture, x, y);
  const scale = Math.min(Math.max(camera.scale * factor, fitScale / 4), fitScale * 200);
  return { scale, centreX: at.x - (x - picture.width / 2) / scale, centreY: at.y + (y - picture.height / 2) / scale };
}

export function panBy(camera: Camera, dx: number, dy: number): Camera {
  return { ...camera, centreX: camera.centreX - dx / camera.scale, centreY: camera.centreY + dy / camera.scale };
}
