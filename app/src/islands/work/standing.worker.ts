import { expose } from 'comlink';
import { openStanding } from './standing';

/** The page's time map on a thread of its own: a cut of ten thousand events takes a moment to compile. */
expose(openStanding());
