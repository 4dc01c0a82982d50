import fc from 'fast-check';

/** The seed the cases are drawn by. */
export const seed = (): number => Number(process.env.PROPERTY_SEED ?? 20261125);

/**
 * The long lists of cases are run whole by `EVERY_CASE=1 npm run test:reference` (and `test:unit`), as when their subject changes;
 * else a part of them, the same each time, so that all tests together end within the hour on two cores.
 */
export const everyCase = process.env.EVERY_CASE === '1';

/**
 * Property tests draw the same cases on every machine, so that a run says something about the change and not about the
 * draw. `PROPERTY_SEED=17 npm run test:unit` draws others; a seed that finds a fault belongs beside the test as a case.
 */
fc.configureGlobal({ seed: seed() });
