import fc from '../node_modules/fast-check/lib/fast-check.js';

// Tests get this in place of fast-check: with the same HELIPHON_SEED a run tries the same values again.
const seed = process.env.HELIPHON_SEED;
if (seed !== undefined) fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(seed) });

export default fc;
