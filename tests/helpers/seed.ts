import fc from 'fast-check';

/**
 * Of the suite, so that a change is judged by the same cases each time; `npm run hunt` looks for
 * others.
 */
const usual = 20261126;
const asked = process.env.HAND_STAMP_SEED;
fc.configureGlobal({ seed: asked === 'random' ? Date.now() : Number(asked ?? usual) });
