import fc from 'fast-check';

// the same cases in every run, so that a red test is the fault of the change at hand; TONOS_SEED=$RANDOM looks for new ones
fc.configureGlobal({ seed: Number(process.env.TONOS_SEED ?? 20261126) });
