import { FILLING, type Placement, type Raster, type Retime, type SpeedKey } from '../../edit';
import { fraction, fractionOf, over } from '../../time';
import { child, children, type Node, textAt } from '../../xml';

const effectsOf = (item: Node): Node[] => children(item, 'filter').flatMap((f) => children(f, 'effect'));
const parameter = (effect: Node | null, id: string): Node | null =>
  children(effect, 'parameter').find((p) => textAt(p, 'parameterid') === id) ?? null;
const effectCalled = (item: Node, id: string): Node | null => effectsOf(item).find((e) => textAt(e, 'effectid') === id) ?? null;
const isTrue = (text: string): boolean => /^(true|1)$/i.test(text);

/** A parameter's number: its value, or that of its first keyframe; `otherwise` when it gives none. */
function numberOf(effect: Node | null, id: string, otherwise: number): number {
  const found = parameter(effect, id);
  const text = textAt(found, 'value') || textAt(children(found, 'keyframe')[0], 'value');
  const value = Number(text);
  return text === '' || !Number.isFinite(value) ? otherwise : value;
}

/** The effects that have a place in a conform. */
const KNOWN = ['timeremap', 'basic', 'crop', 'opacity'];

/** Names of the effects on an item that no conform carries. */
export const foreignEffects = (item: Node): string[] =>
  effectsOf(item)
    .filter((e) => !KNOWN.includes(textAt(e, 'effectid')) && textAt(e, 'effecttype') !== 'audio')
    .map((e) => textAt(e, 'name') || textAt(e, 'effectid') || 'unnamed');

/** True when size, position, crop or opacity move on the way; only where they begin is read then. */
export const isAnimated = (item: Node): boolean =>
  ['basic', 'crop', 'opacity'].some((id) =>
    children(effectCalled(item, id), 'parameter').some((p) => new Set(children(p, 'keyframe').map((k) => JSON.stringify(k))).size > 1),
  );

/**
 * How an item's source runs: percent of natural speed, a flag for reverse, or a graph of keyframes
 * (`when` in frames of the item, `value` in frames of the file). The keys come back as they stand in
 * the file, not yet counted from the event.
 */
export function speedAt(item: Node): Exclude<Retime, { kind: 'keyed' }> | { readonly kind: 'graph'; readonly keys: readonly SpeedKey[] } {
  const effect = effectCalled(item, 'timeremap');
  if (!effect) return { kind: 'natural' };
  if (isTrue(textAt(parameter(effect, 'variablespeed'), 'value'))) {
    const keys = graphOf(parameter(effect, 'graphdict'));
    if (keys.length >= 2) return { kind: 'graph', keys };
  }
  const percent = numberOf(effect, 'speed', 100);
  const reverse = isTrue(textAt(parameter(effect, 'reverse'), 'value'));
  if (percent === 100 && !reverse) return { kind: 'natural' };
  if (percent === 0) return { kind: 'freeze' };
  return { kind: 'constant', speed: over(fractionOf(reverse ? -Math.abs(percent) : percent), fraction(100)) };
}

function graphOf(graph: Node | null): SpeedKey[] {
  const keys = children(graph, 'keyframe').map((k) => ({ record: Number(textAt(k, 'when')), source: Number(textAt(k, 'value')) }));
  const sorted = keys.filter((k) => Number.isFinite(k.record) && Number.isFinite(k.source)).sort((a, b) => a.record - b.record);
  return sorted.filter((k, i) => i === 0 || k.record !== sorted[i - 1]?.record);
}

/**
 * Size, position, crop and opacity. In the file a scale of 100 shows the picture at its own number of
 * pixels; ours is 1 when it fills the frame, so both rasters are needed where they differ. Centre is
 * in shares of the frame, crop and opacity in percent. (From memory of files in common use.)
 */
export function placementOf(item: Node, picture: Raster | null, frame: Raster | null): Placement | null {
  if (effectsOf(item).length === 0) return null;
  const [basic, crop] = [effectCalled(item, 'basic'), effectCalled(item, 'crop')];
  const fit = picture && frame ? picture.width / frame.width : 1;
  const centre = child(parameter(basic, 'center'), 'value') ?? child(children(parameter(basic, 'center'), 'keyframe')[0], 'value');
  const share = (id: string) => numberOf(crop, id, 0) / 100;
  // Without a word about size the editor's system fits the picture to its frame.
  const scale = basic && parameter(basic, 'scale') ? rounded((numberOf(basic, 'scale', 100) / 100) * fit) : 1;
  const placement: Placement = {
    ...FILLING,
    scaleX: scale,
    scaleY: scale,
    rotation: numberOf(basic, 'rotation', 0),
    x: Number(textAt(centre, 'horiz') || 0) || 0,
    y: Number(textAt(centre, 'vert') || 0) || 0,
    crop: { left: share('left'), right: share('right'), top: share('top'), bottom: share('bottom') },
    opacity: numberOf(effectCalled(item, 'opacity'), 'opacity', 100) / 100,
  };
  return JSON.stringify(placement) === JSON.stringify({ ...placement, ...FILLING }) ? null : placement;
}

/** Keeps 50 percent of 3840 in 1920 from becoming 0.9999999. */
const rounded = (n: number) => Number(n.toFixed(9));
