import { TestEnvironment } from 'jest-environment-jsdom';

/** What every browser has and jsdom has not; Node's own are the same. */
const OF_NODE = ['fetch', 'Request', 'Response', 'Headers', 'structuredClone', 'TextEncoder', 'TextDecoder'];

/** A page for tests of hooks and components: `@jest-environment ./scripts/jest-dom.mjs` at the head of a test. */
export default class DomEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of OF_NODE) this.global[name] = globalThis[name];
  }
}
