// Properties are tried with the same values in every run, so that what passes here passes elsewhere; SEED=… tries others, MORE=… times as many.
// What fails is made smaller for a minute at most.
import fc from 'fast-check';

const { SEED = '2026', MORE = '1' } = process.env;
fc.configureGlobal({ seed: Number(SEED), numRuns: 100 * Number(MORE), interruptAfterTimeLimit: 60_000 * Number(MORE) });
