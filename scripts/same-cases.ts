import fc from 'fast-check';

/** A law is held against the same cases in every run, so that green means the same everywhere; `npm run lists:deep` takes fresh ones. */
fc.configureGlobal({ seed: Number(process.env.LAWS_SEED ?? 1) });
