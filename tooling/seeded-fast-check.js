import fc from '../node_modules/fast-check/lib/fast-check.js';

// Tests get this for fast-check: with HELIPHON_SEED a run draws the same lots once more.
const seed = process.env.HELIPHON_SEED;
if (seed !== undefined) fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(seed) });

export default fc;
