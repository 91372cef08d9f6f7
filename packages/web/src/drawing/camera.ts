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

/** The whole space in the middle of the picture; with `cover` the picture is filled and the longer side runs over. */
export function fitCamera(space: Size, picture: Size, cover = false): Camera {
  const x = picture.width / Math.max(space.width, 1e-9);
  const y = picture.height / Math.max(space.height, 1e-9);
  return { centreX: space.width / 2, centreY: space.height / 2, scale: cover ? Math.max(x, y) : Math.min(x, y) * 0.97 };
}

export function toPicture(camera: Camera, picture: Size, x: number, y: number): { x: number; y: number } {
  return { x: picture.width / 2 + (x - camera.centreX) * camera.scale, y: picture.height / 2 - (y - camera.centreY) * camera.scale };
}

export function toWorld(camera: Camera, picture: Size, x: number, y: number): { x: number; y: number } {
  return { x: camera.centreX + (x - picture.width / 2) / camera.scale, y: camera.centreY - (y - picture.height / 2) / camera.scale };
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
