import fc from 'fast-check';

/**
 * Property tests draw the same cases on every machine, so that a run says something about the change and not about the
 * draw. `PROPERTY_SEED=17 npm run test:unit` draws others; a seed that finds a fault belongs beside the test as a case.
 */
fc.configureGlobal({ seed: Number(process.env.PROPERTY_SEED ?? 20261125) });
