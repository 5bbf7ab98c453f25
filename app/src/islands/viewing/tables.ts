import { type Lut, readCube } from '@gemello/core/grade';

/** Look-up tables that pictures are drawn through, by the path of their `.cube` file. */
export interface Tables {
  /** A table as it is held; undefined until it is. */
  held(path: string): Lut | undefined;
  /** Fetches a table; rejects with what is wrong with it. */
  ready(path: string): Promise<Lut>;
}

/** Fetches look-up tables and keeps them. `address` of one names what its file is now. */
export function openTables(address: (path: string) => string): Tables {
  const held = new Map<string, Lut>();
  const asked = new Map<string, Promise<Lut>>();
  return {
    held: (path) => held.get(address(path)),
    ready(path) {
      const where = address(path);
      const known = asked.get(where);
      if (known) return known;
      const made = fetched(where, path).then((lut) => {
        held.set(where, lut);
        return lut;
      });
      asked.set(where, made);
      // What failed may be there when it is asked for again.
      made.catch(() => asked.delete(where));
      return made;
    },
  };
}

async function fetched(where: string, path: string): Promise<Lut> {
  const answer = await fetch(where);
  if (!answer.ok) throw new Error(`The LUT ${path} cannot be had: the server answered ${answer.status}.`);
  const lut = readCube(await answer.text());
  if ('fault' in lut) throw new Error(`The LUT ${path} cannot be read: ${lut.fault}`);
  return lut;
}
