import { create } from 'zustand';

/** What the browser has of a line, `EventSource`, as far as it is used here. */
export type Source = Pick<EventSource, 'readyState' | 'onopen' | 'onerror' | 'onmessage' | 'close'>;

/** Who listens at this end. */
export interface Listener {
  opened(): void;
  heard(said: string): void;
  /** It broke, or did not come about. It is asked for again, until it is. */
  broke(): void;
}

/** Without a word for so long a line is taken for broken, in milliseconds. The server says every 20 s that it is there. */
const SILENCE = 50_000;
/** When a line that was refused is asked for again, in milliseconds. */
const AGAIN = 3_000;
/** How long a page must have been out of sight until it lets its line rest, in milliseconds. */
const UNSEEN = 5_000;
/** `EventSource.CLOSED` */
const CLOSED = 2;

/** A line that is held. */
export interface Held {
  /** Lets go of it for a while. */
  rest(): void;
  /** Takes it up again where it rests. */
  goOn(): void;
  end(): void;
}

/**
 * Holds a line to the server until it is ended. The browser takes up one that broke, but neither one that was refused, as by a server that has
 * just started, nor one that nothing comes over any more, as after the machine slept.
 */
export function holdLine(open: () => Source, to: Listener): Held {
  let source: Source | null = null;
  let next: ReturnType<typeof setTimeout> | undefined;
  const soon = (what: () => void, after: number) => {
    clearTimeout(next);
    next = setTimeout(what, after);
  };
  const rest = () => {
    clearTimeout(next);
    source?.close();
    source = null;
  };
  const anew = () => {
    rest();
    begin();
  };
  const listen = () =>
    soon(() => {
      to.broke();
      anew();
    }, SILENCE);
  const begin = () => {
    const mine = open();
    source = mine;
    mine.onopen = () => {
      listen();
      to.opened();
    };
    mine.onmessage = ({ data }) => {
      listen();
      to.heard(data);
    };
    mine.onerror = () => {
      to.broke();
      if (mine.readyState === CLOSED) soon(anew, AGAIN);
    };
    listen();
  };
  begin();
  return { rest, goOn: () => source ?? begin(), end: rest };
}

/**
 * Lets a line rest while its page is not seen, until the returned function is called: a browser opens six connections to a server for all of its
 * pages (common practice for HTTP/1.1), and each line takes one for good. With six jobs open the next page waited for ever.
 */
export function restUnseen(line: Held, page: Pick<Document, 'hidden' | 'addEventListener' | 'removeEventListener'>): () => void {
  let leaving: ReturnType<typeof setTimeout> | undefined;
  const look = () => {
    clearTimeout(leaving);
    if (page.hidden) leaving = setTimeout(line.rest, UNSEEN);
    else line.goOn();
  };
  page.addEventListener('visibilitychange', look);
  look();
  return () => {
    clearTimeout(leaving);
    page.removeEventListener('visibilitychange', look);
  };
}

interface State {
  /** True while the server does not answer: what is shown may be of before. */
  readonly isDown: boolean;
  /** How often it came back: what could not be had meanwhile is asked for again. */
  readonly returns: number;
}

/** The page's line to the server. */
export const useLine = create<State>(() => ({ isDown: false, returns: 0 }));
