// What tests get as fast-check: with the seed of the run, where one is given.
import fc from '../node_modules/fast-check/lib/fast-check.js';

const seed = Number(process.env.GRAY_LOOM_SEED);
if (seed) fc.configureGlobal({ seed });

export * from '../node_modules/fast-check/lib/fast-check.js';
export default fc;
