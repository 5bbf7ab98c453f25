import { expect, it } from 'vitest';
import { emptiedOf, typedSince } from './sent';

it('fields are let go once what they held was taken, and not what was typed into them meanwhile', () => {
  const sent = { lut: 'a.cube', between: 'tetrahedral' };
  expect(typedSince(sent)(sent)).toEqual({});
  expect(typedSince(sent)({ lut: 'a.cube', between: 'trilinear' })).toEqual({ between: 'trilinear' });
  expect(typedSince<{ lut?: string; cdl?: string }>({ lut: 'a.cube' })({ lut: 'a.cube', cdl: '1 1 1' })).toEqual({ cdl: '1 1 1' });
  expect(typedSince<{ lut?: string; cdl?: string }>(sent)({ cdl: '1 1 1' })).toEqual({ cdl: '1 1 1' });
});
it('a line that was written on while it was being saved stays', () => {
  expect(['soft', 'soft at the tail', ''].map(emptiedOf('soft'))).toEqual(['', 'soft at the tail', '']);
});
