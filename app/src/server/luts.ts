import { readCube, sizeText } from '@gemello/core';
import type { LutView } from '../contract/ledger';
import { answered, drives } from './drives';
import { RequestError } from './http';
import { allowedAt } from './roots';

/** Bytes of the largest file that is taken for a look-up table: 128 entries along each of three sides take some 60 MB of text. */
const LARGEST = 64e6;

/** The text of a `.cube` file and what it is. Throws RequestError where it is not here, may not be looked at, or is no look-up table. */
export async function lutText(file: string): Promise<{ text: string; about: LutView }> {
  const { real, kind } = await allowedAt(file, `There is no file ${file} on this machine. Is its drive mounted?`);
  if (kind !== 'file') throw new RequestError(400, `${file} is a folder. Name the .cube file in it.`);
  // What lies in other files is nobody's business: a fault would tell of it.
  if (!/\.cube$/i.test(real)) throw new RequestError(400, `${file} is no .cube file, which is what a LUT is read from.`);
  const text = await answered(drives().textOf(real, LARGEST));
  if (text === null) throw new RequestError(400, `${file} cannot be opened, or is larger than any look-up table (${sizeText(LARGEST)}).`);
  const lut = readCube(text);
  if ('fault' in lut) throw new RequestError(400, `The LUT ${file} cannot be read: ${lut.fault}`);
  return { text, about: { title: lut.title, dimensions: lut.dimensions, size: lut.size } };
}
