import { z } from 'zod';

/** What core tells, as its own type: it is there. Its shape is held by the compiler on both sides, which are built as one. */
export const told = <T>() => z.custom<T>((value) => value !== undefined, 'It is missing.');
