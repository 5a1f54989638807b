import type { ProcessorModule } from '@tonos/contract';
import { moduleManifest } from '@tonos/core';
import { byName, saysText, settingsText } from './module-texts.ts';

const manifest = (more: object = {}) =>
  moduleManifest.parse({ format: 'tonos.module/1', name: 'Tilt', version: '1.0', summary: 'Tips.', ...more });
const module = (name: string, version: string) =>
  ({ manifest: manifest({ name, version }), createdAt: '' }) as unknown as ProcessorModule;

it('puts versions of one name together, the newest first, by their numbers', () => {
  const list = byName([module('Tilt', '1.9'), module('Air', '2'), module('Tilt', '1.10'), module('Tilt', '1.9.1')]);
  expect(list.map((one) => `${one.manifest.name} ${one.manifest.version}`)).toEqual([
    ...['Air 2', 'Tilt 1.10', 'Tilt 1.9.1', 'Tilt 1.9'],
  ]);
});

it('says what a module says of itself', () => {
  expect(saysText(manifest())).toBe('1 to 8 channels; no latency');
  const findings = [{ name: 'floorDb', title: 'Floor', unit: 'dB' }];
  const more = {
    channels: { minimum: 2, maximum: 2 },
    latency: { frames: 1, milliseconds: 5 },
    tail: { milliseconds: 40 },
  };
  expect(saysText(manifest({ ...more, findings }))).toBe(
    '2 channels; 1 frame and 5 ms late; sounds on for 40 ms; studies first: floor',
  );
});

it('says its settings with their ranges', () => {
  const properties = {
    tiltDb: { type: 'number', title: 'Tilt', unit: 'dB', minimum: -12, maximum: 12, default: 0 },
    flip: { type: 'boolean', title: 'Flip', default: false },
    kind: { type: 'string', title: 'Kind', enum: ['a', 'b'], labels: { a: 'Soft' }, default: 'a' },
  };
  expect(settingsText(manifest({ settings: { properties } }))).toEqual([
    'Tilt \u221212 to 12 dB',
    'Flip, on or off',
    'Kind: Soft, b',
  ]);
});
