/** The port of the server that the tests of a run share; others stand above it, so that runs with ports of their own may go beside each other. */
export const PORT = Number(process.env.GEMELLO_TEST_PORT ?? 4398);

/** Servers that a file of tests starts for itself; each has the port after it for a second one. */
export const PORTS = { restart: PORT + 1, crash: PORT + 3, soak: PORT + 5, laws: PORT + 7, away: PORT + 9 } as const;
