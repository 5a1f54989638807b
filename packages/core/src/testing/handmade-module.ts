/** Modules made byte by byte: what a test needs of one, good or bad, without a compiler. */

const I32 = 0x7f;
const F64 = 0x7c;

interface HandmadeFunction {
  params?: readonly number[];
  results?: readonly number[];
  /** Instructions, without the last `end`. */
  code: readonly number[];
}

export interface Handmade {
  manifest?: unknown;
  /** The manifest's section as it stands there, where it is not JSON. */
  section?: Uint8Array;
  imports?: readonly { module: string; name: string }[];
  functions?: Readonly<Record<string, HandmadeFunction>>;
  memory?: { initial: number; maximum?: number };
  withoutMemory?: boolean;
}

/** Of ASCII only. */
const utf8 = (text: string): number[] => Array.from(text, (letter) => letter.charCodeAt(0));

/** An unsigned number in LEB128. */
const unsigned = (value: number): number[] =>
  value < 128 ? [value] : [(value % 128) | 128, ...unsigned(Math.floor(value / 128))];
/** A signed one. */
const signed = (value: number): number[] =>
  value >= -64 && value < 64 ? [value & 127] : [(value & 127) | 128, ...signed(value >> 7)];
const list = (items: readonly (readonly number[])[]): number[] => [...unsigned(items.length), ...items.flat()];
const named = (text: string): number[] => [...unsigned(utf8(text).length), ...utf8(text)];
const section = (id: number, bytes: readonly number[]): number[] => [id, ...unsigned(bytes.length), ...bytes];

/** Instructions that tests need. */
export const code = {
  i32: (value: number) => [0x41, ...signed(value)],
  f32: (value: number) => [0x43, ...new Uint8Array(Float32Array.of(value).buffer)],
  f64: (value: number) => [0x44, ...new Uint8Array(Float64Array.of(value).buffer)],
  trap: [0x00],
  /** Never comes back. */
  forEver: [0x03, 0x40, 0x0c, 0x00, 0x0b],
  /** Takes one more page and forgets what came of it. */
  grow: [0x41, 0x01, 0x40, 0x00, 0x1a],
  local: (index: number) => [0x20, index],
  setLocal: (index: number) => [0x21, index],
  /** Multiplies each of the frames of a block (local 0) at an address by a number of the memory. */
  storeF32: [0x38, 0x02, 0x00],
  loadF32: [0x2a, 0x02, 0x00],
  storeF64: [0x39, 0x03, 0x00],
  loadF64: [0x2b, 0x03, 0x00],
} as const;

/** Where the samples of the first channel lie; each other channel 16 KiB behind the one before. */
export const INPUT_AT = 1024;
const CHANNEL_BYTES = 16384;

const FUNCTIONS: Record<string, HandmadeFunction> = {
  prepare: { params: [F64, I32, I32], results: [I32], code: code.i32(0) },
  // INPUT_AT + channel * CHANNEL_BYTES
  input: {
    params: [I32],
    results: [I32],
    code: [...code.local(0), ...code.i32(CHANNEL_BYTES), 0x6c, ...code.i32(INPUT_AT), 0x6a],
  },
  process: { params: [I32], code: [] },
};

export const handmadeManifest = {
  format: 'tonos.module/1',
  name: 'Handmade',
  version: '1.0',
  summary: 'Leaves everything as it is.',
};

/** The module's bytes. Unless it says otherwise: eight channels, and the sound as it is. */
export function handmadeModule({
  manifest = handmadeManifest,
  section: given,
  imports = [],
  functions = {},
  memory = { initial: 4, maximum: 1024 },
  withoutMemory,
}: Handmade = {}): Uint8Array {
  const all = Object.entries({ ...FUNCTIONS, ...functions });
  const types = [...all.map(([, one]) => one), ...imports.map(() => ({ params: [], results: [], code: [] }))];
  const said = given ?? (manifest === null ? undefined : new Uint8Array(utf8(JSON.stringify(manifest))));
  return Uint8Array.from([
    ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
    ...section(
      1,
      list(
        types.map(({ params = [], results = [] }) => [
          0x60,
          ...list(params.map((one) => [one])),
          ...list(results.map((one) => [one])),
        ]),
      ),
    ),
    ...(imports.length
      ? section(
          2,
          list(imports.map((one, i) => [...named(one.module), ...named(one.name), 0x00, ...unsigned(all.length + i)])),
        )
      : []),
    ...section(3, list(all.map((_, i) => unsigned(i)))),
    ...(withoutMemory
      ? []
      : section(
          5,
          list([
            memory.maximum === undefined
              ? [0x00, ...unsigned(memory.initial)]
              : [0x01, ...unsigned(memory.initial), ...unsigned(memory.maximum)],
          ]),
        )),
    ...section(
      7,
      list([
        ...all.map(([name], i) => [...named(name), 0x00, ...unsigned(imports.length + i)]),
        ...(withoutMemory ? [] : [[...named('memory'), 0x02, 0x00]]),
      ]),
    ),
    ...section(
      10,
      list(
        all.map(([, one]) => {
          const body = [...list([]), ...one.code, 0x0b];
          return [...unsigned(body.length), ...body];
        }),
      ),
    ),
    ...(said ? section(0, [...named('tonos.manifest'), ...said]) : []),
  ]);
}

/** A block's first channel times the number at address 0, as f64, frame by frame: `for (i = 0; i < frames; i++)`. */
export const TIMES_SETTING: readonly number[] = [
  // local 0 counts down the frames
  ...[0x03, 0x40],
  ...[...code.local(0), 0x04, 0x40],
  // frames - 1
  ...[...code.local(0), ...code.i32(1), 0x6b, ...code.setLocal(0)],
  // address, then the sample times the setting
  ...[...code.local(0), ...code.i32(2), 0x74, ...code.i32(INPUT_AT), 0x6a],
  ...[...code.local(0), ...code.i32(2), 0x74, ...code.i32(INPUT_AT), 0x6a, ...code.loadF32],
  ...[...code.i32(0), ...code.loadF64, 0xb6, 0x94],
  ...code.storeF32,
  ...[0x0c, 0x01, 0x0b],
  0x0b,
];

/** Keeps the setting of any index at address 0. */
export const KEEP_SETTING: HandmadeFunction = {
  params: [I32, F64],
  code: [...code.i32(0), ...code.local(1), ...code.storeF64],
};
export const wasmTypes = { I32, F64 } as const;
