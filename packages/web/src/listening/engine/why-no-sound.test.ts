import { whyNoSound } from './why-no-sound.ts';

it('says why a page gets no shared memory, and what mends it', () => {
  expect(whyNoSound({ isSecureContext: true, crossOriginIsolated: true })).toBeUndefined();
  expect(whyNoSound({ isSecureContext: false, crossOriginIsolated: false })).toMatch(/https address/);
  expect(whyNoSound({ isSecureContext: true, crossOriginIsolated: false })).toMatch(/proxy must hand on Cross-Origin/);
});
