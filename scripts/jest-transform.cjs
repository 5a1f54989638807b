// Compiles with swc, and gives each module its own `Math`: inside Jest's sandbox every look at a global goes through an
// interceptor, which makes inner loops over samples several times slower than they are.
const { createTransformer } = require('@swc/jest');

const OWN_MATH = 'const Math = globalThis.Math;';

module.exports = {
  createTransformer(options) {
    const swc = createTransformer(options);
    const withMath = (result) => ({ ...result, code: OWN_MATH + result.code });
    return {
      canInstrument: swc.canInstrument,
      getCacheKey: (...given) => `${swc.getCacheKey(...given)}-own-math`,
      process: (...given) => withMath(swc.process(...given)),
      processAsync: async (...given) => withMath(await swc.processAsync(...given)),
    };
  },
};
