import { framesUnder } from '../../conform';
import { type Fraction, type Frames, RATES } from '../../time';

/** Frames that a speed has gone on by after so many frames of the record; backwards as forwards. */
export const passedOver = ({ num, den }: Fraction, frames: Frames): Frames => Math.floor((frames * Math.abs(num)) / den);

/** Frames of a source that are held for so many frames of the record, as every list names them; both are counted at one rate, whichever. */
export const framesHeld = (speed: Fraction, frames: Frames): Frames =>
  framesUnder({ retime: { kind: 'constant', speed }, sourceRate: RATES['24'], rateMode: 'usual' }, RATES['24'], frames);
