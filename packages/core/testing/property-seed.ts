import fc from 'fast-check';

// The same commit answers the same twice; another seed looks elsewhere: GEPHYRA_SEED=7 npx vitest run, or $RANDOM.
fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(process.env.GEPHYRA_SEED ?? 1) });
