import { expect, it } from 'vitest';
import { sizeText } from '.';

it('sizes are told in thousands, as disks are sold (SI brochure, prefixes k, M, G)', () => {
  const told = [0, 1, 1499, 1500, 999_499, 1e6, 3.44e6, 128e6, 2 * 1024 ** 3, 4e12].map(sizeText);
  expect(told).toEqual(['1 kB', '1 kB', '1 kB', '2 kB', '999 kB', '1.0 MB', '3.4 MB', '128 MB', '2.1 GB', '4000.0 GB']);
});
it('sizes that are nearly the next unit are told in it', () => {
  expect([999_500, 9.96e6, 999.6e6].map(sizeText)).toEqual(['1.0 MB', '10 MB', '1.0 GB']);
});
