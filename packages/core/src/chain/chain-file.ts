import * as z from 'zod';
import { InvalidChainError } from '../signal/errors.ts';
import { moduleOf } from '../steps/custom/named-module.ts';
import { stepOf } from '../steps/index.ts';
import type { AnyStep } from '../steps/step.ts';
import { type Scope, scope } from './scope.ts';

/** `tonos.chain/1`. Settings stay as they were written: they are checked against their kind by `configureChain`. */
export const chainStep = z.strictObject({
  id: z.string().min(1).max(64).optional(),
  kind: z.string().min(1).max(64),
  on: z.boolean().default(true),
  mix: z.number().min(0).max(1).default(1),
  /** The whole recording where it is left out. */
  scope: scope.optional(),
  settings: z.record(z.string(), z.unknown()).default({}),
  /** Why the step is there, for people; changes nothing that is heard. */
  note: z.string().trim().max(500).optional(),
});

export const chainFile = z.object({
  format: z.literal('tonos.chain/1').default('tonos.chain/1'),
  name: z.string().trim().min(1).max(200),
  tags: z.array(z.string().trim().min(1).max(60)).max(30).default([]),
  notes: z.string().max(10_000).default(''),
  steps: z.array(chainStep).max(100),
});

/** The id of every step, in order. One that states none is called by its place, or by a longer name where another has that one. */
export function stepIds(steps: readonly Pick<ChainStep, 'id'>[]): string[] {
  const taken = new Set(steps.map(({ id }) => id));
  return steps.map(({ id }, index) => {
    if (id !== undefined) return id;
    let own = `step-${index + 1}`;
    while (taken.has(own)) own += '-';
    taken.add(own);
    return own;
  });
}

export type ChainStep = z.output<typeof chainStep>;
export type ChainFile = z.output<typeof chainFile>;

/** A step that can be run: its kind is known and its settings are complete. */
export interface ConfiguredStep {
  readonly id: string;
  readonly definition: AnyStep;
  readonly mix: number;
  readonly scope?: Scope;
  readonly settings: unknown;
}

/** What is wrong with a chain, as data: which step, which setting, what range. */
export interface ChainFault {
  step: number;
  id: string | undefined;
  kind: string;
  code: 'unknown-kind' | 'missing-module' | 'bad-setting' | 'same-id';
  setting?: string;
  minimum?: number;
  maximum?: number;
  message: string;
}

/** All faults of a chain's steps, those switched off included. */
export function chainFaults(steps: readonly ChainStep[]): ChainFault[] {
  return steps.flatMap((step, index): ChainFault[] => {
    const place = { step: index + 1, id: step.id, kind: step.kind };
    const first = step.id === undefined ? index : steps.findIndex(({ id }) => id === step.id);
    if (first < index) {
      const message = `Step ${index + 1}: its id "${step.id}" is that of step ${first + 1}. Give it another, or none.`;
      return [{ ...place, code: 'same-id', message }];
    }
    const definition = stepOf(step);
    const named = moduleOf(step);
    if (named && !definition) {
      const { name, version, sha256 } = named;
      const message = `Step ${index + 1}: the module \u201c${name}\u201d ${version} (${sha256.slice(0, 12)}\u2026) is not here. Bring it into the library, or take the step out.`;
      return [{ ...place, code: 'missing-module', message }];
    }
    if (!definition) {
      return [
        {
          ...place,
          code: 'unknown-kind',
          message: `Step ${index + 1}: the kind "${step.kind}" is not known to this version.`,
        },
      ];
    }
    const parsed = definition.settings.safeParse(step.settings);
    if (parsed.success) return [];
    return parsed.error.issues.map((issue) => settingFault(place, definition, issue));
  });
}

type Issue = z.core.$ZodIssue;

function settingFault(
  place: { step: number; id: string | undefined; kind: string },
  definition: AnyStep,
  issue: Issue,
): ChainFault {
  const unknown = issue.code === 'unrecognized_keys' ? issue.keys[0] : undefined;
  const setting = [...issue.path, ...(unknown ? [unknown] : [])].join('.');
  const schema = z.toJSONSchema(definition.settings, { io: 'input' }) as JsonSchema;
  const range = unknown ? undefined : schemaAt(schema, issue.path);
  const allowed = describeRange(range, schema, unknown !== undefined);
  return {
    ...place,
    code: 'bad-setting',
    setting,
    ...(range?.minimum !== undefined ? { minimum: range.minimum } : {}),
    ...(range?.maximum !== undefined ? { maximum: range.maximum } : {}),
    message: `Step ${place.step} (${place.kind}), setting ${setting || 'settings'}: ${unknown ? 'there is no such setting' : 'not allowed'}; ${allowed}.`,
  };
}

interface JsonSchema {
  minimum?: number;
  maximum?: number;
  enum?: unknown[];
  type?: string;
  unit?: string;
  properties?: Record<string, JsonSchema>;
  items?: JsonSchema;
}

function schemaAt(schema: JsonSchema, path: readonly PropertyKey[]): JsonSchema | undefined {
  return path.reduce<JsonSchema | undefined>(
    (at, key) => (typeof key === 'number' ? at?.items : at?.properties?.[String(key)]),
    schema,
  );
}

function describeRange(range: JsonSchema | undefined, schema: JsonSchema, unknown: boolean): string {
  if (unknown) return `settings are ${Object.keys(schema.properties ?? {}).join(', ') || 'none'}`;
  if (range?.enum) return `allowed are ${range.enum.join(', ')}`;
  if (range?.minimum !== undefined)
    return `allowed is ${range.minimum} to ${range.maximum} ${range.unit ?? ''}`.trimEnd();
  return range?.type
    ? `${/^[aeio]/.test(range.type) ? 'an' : 'a'} ${range.type} is wanted`
    : 'see the catalogue of steps';
}

/** The steps that are on, ready to run. Throws an InvalidChainError that names every fault. */
export function configureChain(steps: readonly ChainStep[]): ConfiguredStep[] {
  const faults = chainFaults(steps);
  if (faults.length) {
    const missing = faults.find(({ code }) => code === 'unknown-kind' || code === 'missing-module');
    const code = missing?.code ?? 'invalid-chain';
    throw new InvalidChainError(code, faults.map((fault) => fault.message).join(' '), { faults });
  }
  const ids = stepIds(steps);
  return steps
    .map((step, index) => ({ ...step, id: ids[index] }))
    .filter((step) => step.on)
    .map(({ id, kind, mix, scope: parts, settings }) => {
      const definition = stepOf({ kind, settings })!;
      return { id, definition, mix, scope: parts, settings: definition.settings.parse(settings) };
    });
}
