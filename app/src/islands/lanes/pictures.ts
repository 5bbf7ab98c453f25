import { LRUCache } from 'lru-cache';
import { pictureAddress } from '../data/api';

/** Small pictures that are held, and how many are asked for at once. */
const [HELD, AT_ONCE] = [400, 4];
const WIDTH = 128;

/** Small pictures of originals for the lanes: what is not here yet is asked for, what was wanted last first. */
export function openPictures(job: string, arrived: () => void) {
  const held = new LRUCache<string, HTMLImageElement | 'asked' | 'missing'>({ max: HELD });
  const last = new LRUCache<string, HTMLImageElement>({ max: HELD });
  let wanted: string[] = [];
  let going = 0;
  const next = () => {
    const address = going < AT_ONCE ? wanted.pop() : undefined;
    if (address === undefined) return;
    going++;
    const image = new Image();
    const settle = (found: boolean) => {
      going--;
      held.set(address, found ? image : 'missing');
      arrived();
      next();
    };
    image.onload = () => settle(true);
    image.onerror = () => settle(false);
    image.src = address;
  };
  return {
    /** The picture, where it is here; until it is, the one that stood in its place before. */
    get(place: string, path: string, frame: number, look: string): HTMLImageElement | null {
      const address = pictureAddress(job, { side: 'original', path, frame, width: WIDTH, look });
      const known = held.get(address);
      if (known instanceof HTMLImageElement) {
        last.set(place, known);
        return known;
      }
      if (known === undefined) {
        held.set(address, 'asked');
        wanted.push(address);
        next();
      }
      return last.get(place) ?? null;
    },
    close() {
      wanted = [];
    },
  };
}
export type SmallPictures = ReturnType<typeof openPictures>;
