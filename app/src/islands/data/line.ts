import { create } from 'zustand';

/** What the browser has of a line, `EventSource`, as far as it is used here. */
export type Source = Pick<EventSource, 'readyState' | 'onopen' | 'onerror' | 'onmessage' | 'close'>;

/** Who listens at this end. */
export interface Listener {
  /** The line is open; `again`: it was before, and anything may have changed since. */
  opened(again: boolean): void;
  heard(said: string): void;
  /** It broke, or did not come about. It is asked for again, until it is. */
  broke(): void;
}

/** Without a word for so long a line is taken for broken, in milliseconds. The server says every 20 s that it is there. */
const SILENCE = 50_000;
/** When a line that was refused is asked for again, in milliseconds. */
const AGAIN = 3_000;
/** `EventSource.CLOSED` */
const CLOSED = 2;

/**
 * Holds a line to the server until the returned function is called. The browser takes up one that broke, but neither one that was refused, as by
 * a server that has just started, nor one that nothing comes over any more, as after the machine slept.
 */
export function holdLine(open: () => Source, to: Listener): () => void {
  let source: Source;
  let next: ReturnType<typeof setTimeout> | undefined;
  let wasOpen = false;
  const soon = (what: () => void, after: number) => {
    clearTimeout(next);
    next = setTimeout(what, after);
  };
  const anew = () => {
    source.close();
    begin();
  };
  const listen = () =>
    soon(() => {
      to.broke();
      anew();
    }, SILENCE);
  const begin = () => {
    source = open();
    source.onopen = () => {
      listen();
      to.opened(wasOpen);
      wasOpen = true;
    };
    source.onmessage = ({ data }) => {
      listen();
      to.heard(data);
    };
    source.onerror = () => {
      to.broke();
      if (source.readyState === CLOSED) soon(anew, AGAIN);
    };
    listen();
  };
  begin();
  return () => {
    clearTimeout(next);
    source.close();
  };
}

interface Line {
  /** True while the server does not answer: what is shown may be of before. */
  readonly isDown: boolean;
  /** How often it came back: what could not be had meanwhile is asked for again. */
  readonly returns: number;
}

/** The page's line to the server. */
export const useLine = create<Line>(() => ({ isDown: false, returns: 0 }));
