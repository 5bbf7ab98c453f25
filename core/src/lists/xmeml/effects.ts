import { canBeSpeed, type Metadata, type Retime, type SpeedKey } from '../../edit';
import { fraction, fractionOf, over } from '../../time';
import { child, children, type Node, numberAt, serialized, textAt } from '../../xml';

export function effectsOf(item: Node): readonly Node[] {
  const filters = children(item, 'filter');
  // Most items have none.
  return filters.length === 0 ? filters : filters.flatMap((f) => children(f, 'effect'));
}
export const parameter = (effect: Node | null, id: string): Node | null =>
  children(effect, 'parameter').find((p) => textAt(p, 'parameterid') === id) ?? null;
export const effectCalled = (item: Node, id: string): Node | null => effectsOf(item).find((e) => textAt(e, 'effectid') === id) ?? null;
const isTrue = (text: string): boolean => /^(true|1)$/i.test(text);

/** The effects that have a place in a conform. */
const KNOWN = ['timeremap', 'basic', 'crop', 'opacity'];

const isForeign = (effect: Node): boolean => !KNOWN.includes(textAt(effect, 'effectid'));
const nameOf = (effect: Node): string => textAt(effect, 'name') || textAt(effect, 'effectid') || 'unnamed';

/** Names of the effects on an item that no conform carries. */
export const foreignEffects = (item: Node): string[] =>
  effectsOf(item)
    .filter((e) => isForeign(e) && textAt(e, 'effecttype') !== 'audio')
    .map(nameOf);

/**
 * What of an item has no place in the model and goes out as it came, with the names of its effects: filters that no conform carries, and how
 * what is generated is generated. Null where there is nothing.
 */
export function keptOf(item: Node, generator: boolean): Metadata | null {
  const filters = children(item, 'filter').filter((f) => children(f, 'effect').every(isForeign) && children(f, 'effect').length > 0);
  const effect = generator ? child(item, 'effect') : null;
  const generated = effect && children(effect, 'parameter').length > 0 ? serialized(effect) : null;
  if (filters.length === 0 && !generated) return null;
  const names = filters.flatMap((f) => children(f, 'effect')).map(nameOf);
  return {
    ...(filters.length > 0 ? { foreign: true, effects: names, filters: filters.map(serialized) } : {}),
    ...(generated ? { generated } : {}),
  };
}

/** Before the words of a title among its notes, so that they are seen and go out with any list. */
export const TITLE_TEXT = 'Text: ';

/** The words of a title: what its text parameters say, as notes. */
export const titleText = (item: Node): string[] =>
  children(child(item, 'effect'), 'parameter').flatMap((p) => {
    const words = textAt(p, 'value')
      .replace(/\s*[\r\n]+\s*/g, ' / ')
      .trim();
    return isText(p) && words !== '' ? [`${TITLE_TEXT}${words}`] : [];
  });

/** A parameter of words: by its id, or by its name where its value is no number. */
const isText = (parameter: Node): boolean =>
  /^(str|text)\d*$/i.test(textAt(parameter, 'parameterid')) ||
  (/^text\b/i.test(textAt(parameter, 'name')) && numberAt(parameter, 'value') === null);

/** How an item's source runs; a graph's keys stand as in the file, not yet counted from the event. */
export type Speed = Exclude<Retime, { kind: 'keyed' }> | { readonly kind: 'graph'; readonly keys: readonly SpeedKey[] };

/**
 * How an item's source runs: percent of natural speed, a flag for reverse, or a graph of keyframes
 * (`when` in frames of the item, `value` in frames of its source at the item's rate). Null where it states none that can be.
 */
export function speedAt(item: Node): Speed | null {
  const effect = effectCalled(item, 'timeremap');
  if (!effect) return { kind: 'natural' };
  if (isTrue(textAt(parameter(effect, 'variablespeed'), 'value'))) {
    const keys = graphOf(parameter(effect, 'graphdict'));
    return keys.length >= 2 ? { kind: 'graph', keys } : null;
  }
  const stated = parameter(effect, 'speed');
  const percent = numberAt(stated, 'value') ?? numberAt(children(stated, 'keyframe')[0], 'value') ?? (stated ? Number.NaN : 100);
  if (!canBeSpeed(percent / 100)) return null;
  const reverse = isTrue(textAt(parameter(effect, 'reverse'), 'value'));
  if (percent === 100 && !reverse) return { kind: 'natural' };
  if (percent === 0) return { kind: 'freeze' };
  return { kind: 'constant', speed: over(fractionOf(reverse ? -Math.abs(percent) : percent), fraction(100)) };
}

function graphOf(graph: Node | null): SpeedKey[] {
  const keys = children(graph, 'keyframe').flatMap((k): SpeedKey[] => {
    const [record, source] = [numberAt(k, 'when'), numberAt(k, 'value')];
    return record === null || source === null ? [] : [{ record, source }];
  });
  const sorted = keys.sort((a, b) => a.record - b.record);
  return sorted.filter((k, i) => i === 0 || k.record !== sorted[i - 1]?.record);
}
