import type { Decision } from '@gemello/core';
import {
  canBeSpeed,
  FILLING,
  FITS,
  type ListEvent,
  type Placement,
  RATE_MODES,
  type Retime,
  type StandingEvent,
  speedOf,
  type Transition,
} from '@gemello/core/edit';
import { NEUTRAL_CDL } from '@gemello/core/grade';
import { formatTimecode, fractionOf, type Rate, typedTimecode } from '@gemello/core/time';

/** What fields are read and decided by beside their event: the cut's rate, the layer it is on, those there are, and its original. */
export interface Around {
  readonly rate: Rate;
  readonly layer: string;
  readonly layers: readonly string[];
  /** The original that is shown; null where there is none. */
  readonly original: { readonly start: number; readonly hasTimecode: boolean; readonly rate: Rate } | null;
  readonly accepted: boolean;
}

/** What typing a value comes to: a decision, nothing because it stands so already, or why it cannot be. */
export type Typed = { readonly decision: Decision } | { readonly problem: string } | null;

/** One value of an event that a decision can change. */
export interface Field {
  readonly name: string;
  readonly says: string;
  /** What it is measured in. */
  readonly unit?: string;
  readonly choices?: (around: Around) => readonly (readonly [value: string, says: string])[];
  /** As it stands, as a person reads and types it. */
  read(event: StandingEvent, around: Around): string;
  /** As the list delivered it; null where the list says nothing of the kind. */
  delivered(event: ListEvent, around: Around): string | null;
  decide(event: StandingEvent, text: string, around: Around): Typed;
  /** The fields of an event that hold it, as decisions name them. */
  readonly of: readonly string[];
}

const number = (text: string): number | null => {
  const n = Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(n) ? n : null;
};
const shown = (n: number, digits = 3): string => String(Number(n.toFixed(digits)));
const problem = (text: string): Typed => ({ problem: text });

const nameField = (name: 'reel' | 'clipName' | 'fileName', says: string): Field => ({
  name,
  says,
  of: [name],
  read: (e) => e[name],
  delivered: (e) => e[name],
  decide: (e, text) => ({ decision: { kind: 'names', event: e.key, [name]: text.trim() } }),
});

const sourceLabel = (frame: number, { original }: Around): string =>
  original?.hasTimecode ? formatTimecode(original.start + frame, original.rate) : String(frame);

/** A slip, given the frame of the original that is to stand for the source in. */
const slipTo = (e: StandingEvent, frame: number, { accepted }: Around): Typed =>
  e.pair && accepted
    ? { decision: { kind: 'slip', event: e.key, original: e.pair.original, sourceStartFrame: frame } }
    : problem('Accept its pair first.');

const trimTo = (edge: 'in' | 'out', says: string): Field => ({
  name: `record-${edge}`,
  says,
  of: ['record'],
  read: (e, { rate }) => formatTimecode(e.record[edge], rate),
  delivered: (e, { rate }) => formatTimecode(e.record[edge], rate),
  decide(e, text, { rate }) {
    const to = typedTimecode(text, rate, e.record[edge]);
    if (to === null) return problem('Type a timecode, or +3 or -3.');
    return { decision: { kind: 'trim', event: e.key, edge, frames: to - e.record[edge] } };
  },
});

const RETIMES = [
  ['natural', 'Natural'],
  ['constant', 'Another speed'],
  ['freeze', 'Freeze'],
  ['keyed', 'Changes on the way'],
] as const;

const retimed = (kind: string, speed: number): Retime | null => {
  if (kind === 'natural' || (kind === 'constant' && speed === 1)) return { kind: 'natural' };
  if (kind === 'freeze' || speed === 0) return { kind: 'freeze' };
  return kind === 'constant' && canBeSpeed(speed) ? { kind: 'constant', speed: fractionOf(speed) } : null;
};

const joined = (e: StandingEvent, change: Partial<Transition> | null): Typed => {
  if (change === null) return { decision: { kind: 'transition', event: e.key, transition: null } };
  const now = e.transitionIn ?? { type: 'dissolve', duration: 12, before: 6, from: 'previous', wipeCode: null };
  return { decision: { kind: 'transition', event: e.key, transition: { ...now, ...change } } };
};

const joinNumber = (name: 'duration' | 'before', says: string): Field => ({
  name: `join-${name}`,
  says,
  unit: 'frames',
  of: ['transitionIn'],
  read: (e) => (e.transitionIn ? String(e.transitionIn[name]) : ''),
  delivered: (e) => (e.transitionIn ? String(e.transitionIn[name]) : ''),
  decide(e, text) {
    const n = number(text);
    if (!e.transitionIn) return problem('Choose a transition first.');
    return n === null || !Number.isInteger(n) || (name === 'duration' && n < 1)
      ? problem('A whole number of frames.')
      : joined(e, { [name]: n });
  },
});

/** A number of the placement, shown times `of`. */
const placed = (
  name: string,
  says: string,
  unit: string,
  of: number,
  get: (p: Placement) => number,
  set: (p: Placement, n: number) => Placement,
): Field => ({
  name,
  says,
  unit,
  of: ['placement'],
  read: (e) => shown(get(e.placement ?? FILLING) * of, 2),
  delivered: (e) => shown(get(e.placement ?? FILLING) * of, 2),
  decide(e, text) {
    const n = number(text);
    if (n === null) return problem('A number.');
    const now = e.placement ?? FILLING;
    const then = set(now, n / of);
    // A picture that moves is changed as a whole: all of its keys alike.
    const placement = { ...then, keys: now.keys.map((k) => ({ ...k, ...poseOf(set({ ...now, ...k }, n / of)) })) };
    return { decision: { kind: 'placement', event: e.key, placement } };
  },
});
const poseOf = ({ scaleX, scaleY, x, y, rotation, crop, opacity }: Placement) => ({ scaleX, scaleY, x, y, rotation, crop, opacity });

const cropped = (side: 'left' | 'right' | 'top' | 'bottom') =>
  placed(
    `crop-${side}`,
    `Crop ${side}`,
    '%',
    100,
    (p) => p.crop[side],
    (p, n) => ({ ...p, crop: { ...p.crop, [side]: Math.max(0, Math.min(1, n)) } }),
  );

const yesNo = (): readonly (readonly [string, string])[] => [
  ['no', 'No'],
  ['yes', 'Yes'],
];
const flipped = (name: 'flipX' | 'flipY', says: string): Field => ({
  name,
  says,
  of: ['placement'],
  choices: yesNo,
  read: (e) => ((e.placement ?? FILLING)[name] ? 'yes' : 'no'),
  delivered: (e) => ((e.placement ?? FILLING)[name] ? 'yes' : 'no'),
  decide: (e, text) => ({
    decision: { kind: 'placement', event: e.key, placement: { ...(e.placement ?? FILLING), [name]: text === 'yes' } },
  }),
});

const graded = (name: 'slope' | 'offset' | 'power', says: string): Field => ({
  name,
  says,
  unit: 'R G B',
  of: ['cdl'],
  read: (e) => (e.cdl ?? NEUTRAL_CDL)[name].map((n) => shown(n, 4)).join(' '),
  delivered: (e) => (e.cdl ?? NEUTRAL_CDL)[name].map((n) => shown(n, 4)).join(' '),
  decide(e, text) {
    const three = text.trim().split(/\s+/).map(number);
    const [r, g, b] = three.length === 1 ? [three[0], three[0], three[0]] : three;
    if (r === null || g === null || b === null || r === undefined || g === undefined || b === undefined)
      return problem('Three numbers, or one for all.');
    if (name !== 'offset' && Math.min(r, g, b) < 0) return problem('No number below zero (ASC CDL).');
    return { decision: { kind: 'grade', scope: { of: 'event', event: e.key }, cdl: { ...(e.cdl ?? NEUTRAL_CDL), [name]: [r, g, b] } } };
  },
});

const JOINS = [
  ['none', 'Cut'],
  ['dissolve', 'Dissolve'],
  ['wipe', 'Wipe'],
] as const;
const FIT_WORDS: Record<(typeof FITS)[number], string> = {
  inside: 'All of it inside',
  fill: 'Filling the frame',
  stretch: 'Stretched',
  'one-to-one': 'Pixel for pixel',
};
const MODE_WORDS: Record<(typeof RATE_MODES)[number], string> = {
  usual: 'As the cut has it',
  'real-time': 'In real time',
  'frame-for-frame': 'Frame for frame',
};

/** All values, by what they are about. */
export const SECTIONS: readonly { readonly says: string; readonly fields: readonly Field[] }[] = [
  {
    says: 'Source',
    fields: [
      nameField('reel', 'Reel'),
      nameField('clipName', 'Clip name'),
      nameField('fileName', 'File name'),
      {
        name: 'source-in',
        says: 'Source in',
        of: ['pair'],
        read: (e, around) => (e.pair ? sourceLabel(e.pair.sourceStartFrame, around) : formatTimecode(e.source.in, e.sourceRate)),
        delivered: (e) => formatTimecode(e.source.in, e.sourceRate),
        decide(e, text, around) {
          const { original } = around;
          if (!e.pair || !original) return problem('Pair it first: its source in is that of its original.');
          const now = e.pair.sourceStartFrame;
          const to = original.hasTimecode ? typedTimecode(text, original.rate, original.start + now) : number(text);
          if (to === null) return problem('Type a timecode, or +3 or -3.');
          return slipTo(e, original.hasTimecode ? to - original.start : to, around);
        },
      },
      {
        name: 'slip',
        says: 'Slip',
        unit: 'frames',
        of: ['pair'],
        read: (e) => (e.pair ? String(e.pair.sourceStartFrame - e.pair.acceptedAt) : ''),
        delivered: () => '0',
        decide(e, text, around) {
          const n = number(text);
          if (n === null || !Number.isInteger(n)) return problem('A whole number of frames.');
          return e.pair ? slipTo(e, e.pair.acceptedAt + n, around) : problem('Pair it first.');
        },
      },
    ],
  },
  {
    says: 'Record',
    fields: [
      trimTo('in', 'Record in'),
      trimTo('out', 'Record out'),
      {
        name: 'layer',
        says: 'Layer',
        of: ['layer'],
        choices: ({ layers }) => [...layers, `V${layers.length + 1}`].map((l) => [l, l] as const),
        read: (_, { layer }) => layer,
        delivered: () => null,
        decide: (e, text) => ({ decision: { kind: 'layer', event: e.key, layer: text } }),
      },
      {
        name: 'enabled',
        says: 'Switched on',
        of: ['enabled'],
        choices: yesNo,
        read: (e) => (e.enabled ? 'yes' : 'no'),
        delivered: (e) => (e.enabled ? 'yes' : 'no'),
        decide: (e, text) => ({ decision: { kind: 'enable', event: e.key, enabled: text === 'yes' } }),
      },
    ],
  },
  {
    says: 'Speed',
    fields: [
      {
        name: 'retime',
        says: 'Runs',
        of: ['retime'],
        choices: () => RETIMES,
        read: (e) => e.retime.kind,
        delivered: (e) => e.retime.kind,
        decide(e, text) {
          if (text === 'keyed') return problem('Keys come from a list or a proof.');
          const retime = retimed(text, speedOf(e.retime) === 1 || speedOf(e.retime) === 0 ? 0.5 : speedOf(e.retime));
          return retime && { decision: { kind: 'speed', event: e.key, retime, stays: 0 } };
        },
      },
      {
        name: 'speed',
        says: 'Speed',
        unit: '%, minus is reverse',
        of: ['retime'],
        read: (e) => shown(speedOf(e.retime) * 100),
        delivered: (e) => shown(speedOf(e.retime) * 100),
        decide(e, text) {
          const [speed = '', stays = '0'] = text.split('@');
          const n = number(speed);
          const retime = n === null ? null : retimed('constant', n / 100);
          const fixed = number(stays);
          if (!retime || fixed === null || !Number.isInteger(fixed) || fixed < 0)
            return problem('A speed in per cent; 50 @ 12 keeps the picture of its frame 12.');
          return { decision: { kind: 'speed', event: e.key, retime, stays: fixed } };
        },
      },
      {
        name: 'rate-mode',
        says: 'Another rate',
        of: ['rateMode'],
        choices: () => RATE_MODES.map((m) => [m, MODE_WORDS[m]] as const),
        read: (e) => e.rateMode,
        delivered: (e) => e.rateMode,
        decide: (e, text) => ({
          decision: { kind: 'rate-mode', scope: { of: 'event', event: e.key }, mode: text as (typeof RATE_MODES)[number] },
        }),
      },
    ],
  },
  {
    says: 'Transition at its head',
    fields: [
      {
        name: 'join-type',
        says: 'Kind',
        of: ['transitionIn'],
        choices: () => JOINS,
        read: (e) => e.transitionIn?.type ?? 'none',
        delivered: (e) => e.transitionIn?.type ?? 'none',
        decide: (e, text) =>
          text === 'none'
            ? joined(e, null)
            : joined(e, { type: text as 'dissolve' | 'wipe', wipeCode: text === 'wipe' ? (e.transitionIn?.wipeCode ?? '001') : null }),
      },
      joinNumber('duration', 'Length'),
      joinNumber('before', 'Before the cut'),
      {
        name: 'wipe-code',
        says: 'Wipe pattern',
        of: ['transitionIn'],
        read: (e) => e.transitionIn?.wipeCode ?? '',
        delivered: (e) => e.transitionIn?.wipeCode ?? '',
        decide: (e, text) =>
          e.transitionIn?.type === 'wipe' ? joined(e, { wipeCode: text.trim() }) : problem('Only a wipe has a pattern.'),
      },
    ],
  },
  {
    says: 'Size and position',
    fields: [
      placed(
        'scale-x',
        'Width',
        '%',
        100,
        (p) => p.scaleX,
        (p, n) => ({ ...p, scaleX: n }),
      ),
      placed(
        'scale-y',
        'Height',
        '%',
        100,
        (p) => p.scaleY,
        (p, n) => ({ ...p, scaleY: n }),
      ),
      placed(
        'x',
        'Right',
        '% of the frame',
        100,
        (p) => p.x,
        (p, n) => ({ ...p, x: n }),
      ),
      placed(
        'y',
        'Down',
        '% of the frame',
        100,
        (p) => p.y,
        (p, n) => ({ ...p, y: n }),
      ),
      placed(
        'rotation',
        'Turn',
        '°, clockwise',
        1,
        (p) => p.rotation,
        (p, n) => ({ ...p, rotation: n }),
      ),
      placed(
        'opacity',
        'Opacity',
        '%',
        100,
        (p) => p.opacity,
        (p, n) => ({ ...p, opacity: Math.max(0, Math.min(1, n)) }),
      ),
      cropped('left'),
      cropped('right'),
      cropped('top'),
      cropped('bottom'),
      flipped('flipX', 'Left and right changed'),
      flipped('flipY', 'Top and bottom changed'),
      {
        name: 'fit',
        says: 'Laid in',
        of: ['placement'],
        choices: () => [['', 'As the cut has it'] as const, ...FITS.map((f) => [f, FIT_WORDS[f]] as const)],
        read: (e) => e.placement?.fit ?? '',
        delivered: (e) => e.placement?.fit ?? '',
        decide: (e, text) => ({
          decision: {
            kind: 'placement',
            event: e.key,
            placement: { ...(e.placement ?? FILLING), fit: text === '' ? null : (text as (typeof FITS)[number]) },
          },
        }),
      },
    ],
  },
  {
    says: 'Grade (ASC CDL)',
    fields: [
      graded('slope', 'Slope'),
      graded('offset', 'Offset'),
      graded('power', 'Power'),
      {
        name: 'saturation',
        says: 'Saturation',
        of: ['cdl'],
        read: (e) => shown((e.cdl ?? NEUTRAL_CDL).saturation, 4),
        delivered: (e) => shown((e.cdl ?? NEUTRAL_CDL).saturation, 4),
        decide(e, text) {
          const n = number(text);
          if (n === null || n < 0) return problem('A number, not below zero (ASC CDL).');
          return { decision: { kind: 'grade', scope: { of: 'event', event: e.key }, cdl: { ...(e.cdl ?? NEUTRAL_CDL), saturation: n } } };
        },
      },
    ],
  },
];

/** What a value of several events is, where they differ. */
export const MIXED = null;

/** The value that all events share; `MIXED` where they differ. */
export function sharedValue(field: Field, events: readonly (readonly [StandingEvent, Around])[]): string | typeof MIXED {
  const [first, ...others] = events.map(([event, around]) => field.read(event, around));
  return first !== undefined && others.every((v) => v === first) ? first : MIXED;
}

/** The decision that gives a value back as the list delivered it; null where it stands so, or is no matter of the list. */
export function reverted(field: Field, now: StandingEvent, delivered: ListEvent, around: Around): Decision | null {
  const was = field.delivered(delivered, around);
  if (was === null || field.read(now, around) === was) return null;
  const back = 'its own list';
  switch (field.of[0]) {
    case 'pair':
      return now.pair && now.pair.sourceStartFrame !== now.pair.acceptedAt
        ? { kind: 'slip', event: now.key, original: now.pair.original, sourceStartFrame: now.pair.acceptedAt }
        : null;
    case 'record': {
      const edge = field.name === 'record-in' ? 'in' : 'out';
      return { kind: 'trim', event: now.key, edge, frames: delivered.record[edge] - now.record[edge] };
    }
    case 'enabled':
      return { kind: 'enable', event: now.key, enabled: delivered.enabled };
    case 'rateMode':
      return { kind: 'rate-mode', scope: { of: 'event', event: now.key }, mode: delivered.rateMode };
    case 'retime':
      return { kind: 'carry', event: now.key, from: back, carried: { retime: delivered.retime, source: delivered.source } };
    case 'transitionIn':
      return { kind: 'carry', event: now.key, from: back, carried: { transitionIn: delivered.transitionIn } };
    case 'placement':
      return { kind: 'carry', event: now.key, from: back, carried: { placement: delivered.placement } };
    case 'cdl':
      return { kind: 'carry', event: now.key, from: back, carried: { cdl: delivered.cdl } };
    default:
      return { kind: 'names', event: now.key, [field.of[0] as 'reel']: was };
  }
}
