import { FILLING, type Fit, type Placement, type Pose, type PoseKey, type Raster } from '../edit';

/** A size in pixels with the shape of those pixels: width over height, 1 is square. */
export interface Frame {
  readonly raster: Raster;
  readonly pixelAspect: number;
}

/** The pose of a placement at a record offset from the record in; between two keys everything moves evenly. */
export function poseAt(placement: Placement | null, offset: number): Pose {
  if (!placement) return FILLING;
  const { keys } = placement;
  const [first, last] = [keys[0], keys.at(-1)];
  if (!first || !last) return placement;
  if (offset <= first.record) return first;
  if (offset >= last.record) return last;
  let at = 1;
  while ((keys[at] as PoseKey).record < offset) at++;
  const [from, to] = [keys[at - 1] as PoseKey, keys[at] as PoseKey];
  const share = (offset - from.record) / (to.record - from.record);
  const mix = (a: number, b: number) => a + (b - a) * share;
  return {
    scaleX: mix(from.scaleX, to.scaleX),
    scaleY: mix(from.scaleY, to.scaleY),
    x: mix(from.x, to.x),
    y: mix(from.y, to.y),
    rotation: mix(from.rotation, to.rotation),
    opacity: mix(from.opacity, to.opacity),
    crop: {
      left: mix(from.crop.left, to.crop.left),
      right: mix(from.crop.right, to.crop.right),
      top: mix(from.crop.top, to.crop.top),
      bottom: mix(from.crop.bottom, to.crop.bottom),
    },
  };
}

/** True where a picture is not laid alike from its first frame to its last, however much of it is seen. */
export function isMoving(placement: Placement | null): boolean {
  const [first, ...others] = placement?.keys ?? [];
  if (!first) return false;
  const alike = (one: Pose, other: Pose) =>
    (['scaleX', 'scaleY', 'x', 'y', 'rotation'] as const).every((k) => one[k] === other[k]) &&
    (['left', 'right', 'top', 'bottom'] as const).every((side) => one.crop[side] === other.crop[side]);
  return others.some((key) => !alike(first, key));
}

/** How many frame units one unit of the picture takes, across and down, before any placement. Pixels are taken square. */
export function fitScale(fit: Fit, picture: Frame, frame: Frame): { x: number; y: number } {
  const across = (frame.raster.width * frame.pixelAspect) / (picture.raster.width * picture.pixelAspect);
  const down = frame.raster.height / picture.raster.height;
  switch (fit) {
    case 'inside':
      return { x: Math.min(across, down), y: Math.min(across, down) };
    case 'fill':
      return { x: Math.max(across, down), y: Math.max(across, down) };
    case 'stretch':
      return { x: across, y: down };
    case 'one-to-one':
      return { x: 1, y: 1 };
  }
}

/**
 * Where a picture lies on a canvas. A picture's point (u, v), in its own pixels from its upper left corner, lies at
 * (a u + c v + e, b u + d v + f) in pixels of the canvas. `crop` is the part of the picture that is seen, in its pixels.
 */
export interface Lay {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
  readonly crop: { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number };
}

/** Lays a picture on a canvas of any size that shows the whole frame. */
export function layOf(pose: Pose, flip: Pick<Placement, 'flipX' | 'flipY'>, fit: Fit, picture: Frame, frame: Frame, canvas: Raster): Lay {
  const { width, height } = picture.raster;
  const base = fitScale(fit, picture, frame);
  // One unit of the frame, with square pixels, in pixels of the canvas.
  const across = canvas.width / (frame.raster.width * frame.pixelAspect);
  const down = canvas.height / frame.raster.height;
  const wide = base.x * pose.scaleX * picture.pixelAspect * (flip.flipX ? -1 : 1);
  const high = base.y * pose.scaleY * (flip.flipY ? -1 : 1);
  const angle = (pose.rotation * Math.PI) / 180;
  const [cos, sin] = [exactly(Math.cos(angle)), exactly(Math.sin(angle))];
  const [a, b, c, d] = [cos * wide * across, sin * wide * down, -sin * high * across, cos * high * down];
  const [middleX, middleY] = [canvas.width * (0.5 + pose.x), canvas.height * (0.5 + pose.y)];
  return {
    a,
    b,
    c,
    d,
    e: middleX - (a * width) / 2 - (c * height) / 2,
    f: middleY - (b * width) / 2 - (d * height) / 2,
    crop: {
      left: width * pose.crop.left,
      top: height * pose.crop.top,
      right: width * (1 - pose.crop.right),
      bottom: height * (1 - pose.crop.bottom),
    },
  };
}

/** Keeps a quarter turn from leaving a rest of 1e-17. */
const exactly = (n: number): number => (Math.abs(n - Math.round(n)) < 1e-12 ? Math.round(n) : n);

/** How far, in pixels of the canvas, a picture may fall short of an edge and still count as covering it. */
const NEAR = 0.51;

/** True when a picture that is not turned, opaque and without alpha of its own, hides all that lies below it. */
export function covers(lay: Lay, pose: Pose, canvas: Raster): boolean {
  if (pose.opacity < 1 || lay.b !== 0 || lay.c !== 0) return false;
  const [left, right] = [lay.a * lay.crop.left + lay.e, lay.a * lay.crop.right + lay.e];
  const [top, bottom] = [lay.d * lay.crop.top + lay.f, lay.d * lay.crop.bottom + lay.f];
  return (
    Math.min(left, right) <= NEAR &&
    Math.max(left, right) >= canvas.width - NEAR &&
    Math.min(top, bottom) <= NEAR &&
    Math.max(top, bottom) >= canvas.height - NEAR
  );
}
