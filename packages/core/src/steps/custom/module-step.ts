import * as z from 'zod';
import { plainFigure, signedFigure } from '../../signal/figures.ts';
import type { SignalFormat } from '../../signal/signal.ts';
import { type AnyStep, defineStep, type Findings, noTrace, type Processor } from '../step.ts';
import { type ModuleManifest, type ModuleSetting, settingSchema } from './manifest.ts';
import { ModuleError } from './module-error.ts';
import { ModuleInstance } from './module-instance.ts';
import { CUSTOM, moduleName } from './named-module.ts';
import type { ProcessingModule } from './registry.ts';

type Values = Record<string, unknown>;

/** The definition of a step that a module makes: from here on it is a step like any other. */
export function moduleStep(module: ProcessingModule): AnyStep {
  const { manifest } = module;
  const { properties } = manifest.settings;
  const settings = z.strictObject({
    module: moduleName.refine(({ sha256 }) => sha256 === module.sha256),
    ...Object.fromEntries(Object.entries(properties).map(([name, one]) => [name, settingSchema(one)])),
  }) as unknown as z.ZodType<Values>;
  return defineStep<Values>({
    kind: CUSTOM,
    title: manifest.name,
    group: manifest.group,
    summary: manifest.summary,
    words: manifest.words,
    settings,
    describe: (values) => describe(properties, values) || `version ${manifest.version}`,
    ...(manifest.findings.length && {
      study: (values, format) => {
        const instance = started(module, format, values);
        return {
          hear: (block) => instance.hear(block),
          conclude: () => {
            const found = instance.conclude();
            return Object.fromEntries(manifest.findings.map(({ name }, i) => [name, found[i]]));
          },
        };
      },
    }),
    start: (values, format, findings) => new ModuleProcessor(module, format, values, findings),
  });
}

/** Such as "tilt +3 dB, pivot 1000 Hz". */
const describe = (properties: ModuleManifest['settings']['properties'], values: Values): string =>
  Object.entries(properties)
    .map(([name, one]) => {
      const value = values[name];
      const title = one.title.toLowerCase();
      if (one.type === 'boolean') return value ? title : '';
      if (one.type === 'string') return `${title} ${one.labels[String(value)] ?? value}`;
      const say = one.minimum < 0 && one.unit === 'dB' ? signedFigure : plainFigure;
      return `${title} ${say(Number(value))} ${one.unit}`.trimEnd();
    })
    .filter(Boolean)
    .join(', ');

/** What a module is told of a setting: a number; on is 1; of words, the place among them. */
const numberOf = (setting: ModuleSetting, value: unknown): number =>
  setting.type === 'string' ? setting.enum.indexOf(String(value)) : Number(value);

function started(module: ProcessingModule, format: SignalFormat, values: Values): ModuleInstance {
  if (!module.compiled)
    throw new ModuleError('missing-module', `The module \u201c${module.manifest.name}\u201d is not at hand here.`);
  const instance = new ModuleInstance(module, format);
  Object.entries(module.manifest.settings.properties).forEach(([name, one], i) => {
    instance.set(i, numberOf(one, values[name]));
  });
  return instance;
}

class ModuleProcessor implements Processor<Values> {
  readonly latencyFrames: number;
  readonly tailFrames: number;
  readonly takeTrace = noTrace;
  private readonly instance: ModuleInstance;
  private readonly settings: [string, ModuleSetting][];

  constructor(
    module: ProcessingModule,
    format: SignalFormat,
    private values: Values,
    findings: Findings,
  ) {
    this.settings = Object.entries(module.manifest.settings.properties);
    this.instance = started(module, format, values);
    module.manifest.findings.forEach(({ name }, i) => {
      this.instance.find(i, Number(findings[name] ?? 0));
    });
    this.latencyFrames = this.instance.latencyFrames;
    this.tailFrames = this.instance.tailFrames;
  }

  process(block: Float32Array[]): void {
    this.instance.process(block);
  }

  update(values: Values): void {
    this.settings.forEach(([name, one], i) => {
      if (values[name] !== this.values[name]) this.instance.set(i, numberOf(one, values[name]));
    });
    this.values = values;
  }
}
