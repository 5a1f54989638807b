import type { Recording } from '@tonos/contract';
import { isWithoutSpeech } from './AskedKinds.tsx';

const recording = (more: object, measured: object = {}): Recording =>
  ({
    ...{ kind: 'voice', status: 'ready', ...more },
    measurement: { integratedLufs: -20, headSilenceSeconds: null, ...measured },
  }) as unknown as Recording;

it.each([
  ['a bed without a word', recording({}), true],
  ['a voice', recording({}, { headSilenceSeconds: 0.8 }), false],
  ['digital silence', recording({}, { integratedLufs: null }), false],
  ['what is music already', recording({ kind: 'music' }), false],
  ['what is still measured', recording({ status: 'measuring' }), false],
])('asks of %s: %#', (_, one, asks) => {
  expect(isWithoutSpeech(one)).toBe(asks);
});
