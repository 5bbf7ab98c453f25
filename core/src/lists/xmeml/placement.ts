import { bisector } from 'd3-array';
import { FILLING, type Placement, type Pose, type PoseKey, type Raster } from '../../edit';
import { child, children, type Node, numberAt, textAt } from '../../xml';
import { effectCalled, effectsOf, parameter } from './effects';

/** A number that may change on the way: its value, or its keyframes in order. */
interface Moving {
  readonly value: number;
  readonly keys: readonly { readonly when: number; readonly value: number }[];
}

const still = (value: number): Moving => ({ value, keys: [] });

/** A parameter as it moves; `at` picks one number of a value. Where nothing changes, the value alone. */
function movingOf(found: Node | null, otherwise: number, at: (value: Node | null) => number | null): Moving {
  const keys = children(found, 'keyframe')
    .flatMap((k) => {
      const [when, value] = [numberAt(k, 'when'), at(k)];
      return when === null || value === null ? [] : [{ when, value }];
    })
    .sort((a, b) => a.when - b.when);
  const value = at(found) ?? keys[0]?.value ?? otherwise;
  return keys.some((k) => k.value !== keys[0]?.value) ? { value: keys[0]?.value ?? value, keys } : still(keys[0]?.value ?? value);
}

const numberOf = (node: Node | null) => numberAt(node, 'value');

const afterTime = bisector((key: Moving['keys'][number]) => key.when).right;

/** Where a moving number stands: even from one key to the next, still outside them. */
function standsAt({ value, keys }: Moving, when: number): number {
  const [first, last] = [keys[0], keys.at(-1)];
  if (!first || !last) return value;
  if (when <= first.when) return first.value;
  if (when >= last.when) return last.value;
  const next = afterTime(keys, when);
  const [from, to] = [keys[next - 1] as (typeof keys)[0], keys[next] as (typeof keys)[0]];
  return from.value + ((to.value - from.value) * (when - from.when)) / (to.when - from.when);
}

/**
 * Size, position, crop and opacity, also where they move on the way. In the file a scale of 100 shows the picture at its own
 * number of pixels; ours is 1 when it fills the frame, so both rasters are needed where they differ. Centre is in shares of
 * the frame, crop and opacity in percent. (From memory of files in common use.) `recordOf` turns the time of a keyframe
 * into record frames from where the event is first seen.
 */
export function placementOf(
  item: Node,
  picture: Raster | null,
  frame: Raster | null,
  recordOf: (when: number) => number,
): Placement | null {
  if (effectsOf(item).length === 0) return null;
  const [basic, crop] = [effectCalled(item, 'basic'), effectCalled(item, 'crop')];
  const fit = picture && frame ? picture.width / frame.width : 1;
  const percent = (effect: Node | null, id: string, otherwise: number) => movingOf(parameter(effect, id), otherwise, numberOf);
  const centre = (side: 'horiz' | 'vert') => movingOf(parameter(basic, 'center'), 0, (v) => numberAt(child(v, 'value'), side));
  // Without a word about size the editor's system fits the picture to its frame.
  const scale = basic && parameter(basic, 'scale') ? percent(basic, 'scale', 100) : still(100 / fit);
  const moving = {
    scale,
    rotation: percent(basic, 'rotation', 0),
    x: centre('horiz'),
    y: centre('vert'),
    left: percent(crop, 'left', 0),
    right: percent(crop, 'right', 0),
    top: percent(crop, 'top', 0),
    bottom: percent(crop, 'bottom', 0),
    opacity: percent(effectCalled(item, 'opacity'), 'opacity', 100),
  };
  const poseAt = (when: number): Pose => {
    const at = (what: keyof typeof moving) => standsAt(moving[what], when);
    const size = rounded((at('scale') / 100) * fit);
    const share = (what: 'left' | 'right' | 'top' | 'bottom') => at(what) / 100;
    return {
      scaleX: size,
      scaleY: size,
      rotation: at('rotation'),
      x: at('x'),
      y: at('y'),
      crop: { left: share('left'), right: share('right'), top: share('top'), bottom: share('bottom') },
      opacity: at('opacity') / 100,
    };
  };
  const times = [...new Set(Object.values(moving).flatMap((m) => m.keys.map((k) => k.when)))].sort((a, b) => a - b);
  const keys = times.map((when): PoseKey => ({ record: recordOf(when), ...poseAt(when) }));
  const placement: Placement = { ...FILLING, ...poseAt(times[0] ?? 0), keys };
  return JSON.stringify(placement) === JSON.stringify({ ...placement, ...FILLING }) ? null : placement;
}

/** How many keyframes of size, position, crop or opacity have no time that could be read. */
export const brokenKeysOf = (item: Node): number =>
  effectsOf(item).length === 0
    ? 0
    : ['basic', 'crop', 'opacity']
        .flatMap((id) => children(effectCalled(item, id), 'parameter').flatMap((p) => children(p, 'keyframe')))
        .filter((k) => numberAt(k, 'when') === null).length;

/** Names of interpolations under which a value moves otherwise than evenly, as far as keyframes say one. */
export const curvesOf = (item: Node): string[] =>
  effectsOf(item).length === 0
    ? []
    : [
        ...new Set(
          ['basic', 'crop', 'opacity'].flatMap((id) =>
            children(effectCalled(item, id), 'parameter').flatMap((p) =>
              children(p, 'keyframe')
                .map((k) => textAt(k, 'interpolation', 'name'))
                .filter((name) => name !== '' && !/linear/i.test(name)),
            ),
          ),
        ),
      ];

/** Keeps 50 percent of 3840 in 1920 from becoming 0.9999999. */
const rounded = (n: number) => Number(n.toFixed(9));
