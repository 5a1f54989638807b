import type { Preset, PresetChange, PresetFile } from '@tonos/contract';
import { chainFaults, InvalidChainError, SHIPPED_PRESETS } from '@tonos/core';
import { IsNull } from 'typeorm';
import type { Database } from '../database/database.ts';
import type { EventBus } from '../events/event-bus.ts';
import { checkThere, HttpProblem } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import { PresetEntity } from './preset-entity.ts';

/** Stored settings of single steps: those that ship, and people's own. */
export class PresetService {
  constructor(
    private readonly database: Database,
    private readonly bus: EventBus,
    private readonly surroundings: Surroundings,
  ) {}

  async list(): Promise<Preset[]> {
    const own = await this.entities.find({ where: { trashedAt: IsNull() }, order: { kind: 'ASC', name: 'ASC' } });
    return [...SHIPPED, ...own.map(describe)];
  }

  async add({ kind, name, tags, settings }: PresetFile): Promise<Preset> {
    checkSettings(kind, settings);
    const { newId, now } = this.surroundings;
    const createdAt = now();
    const entity = { id: newId(), kind, name, tags, settings, createdAt, changedAt: createdAt, trashedAt: null };
    await this.database.transaction((manager) => manager.save(PresetEntity, entity));
    return this.told(entity);
  }

  async change(id: string, change: PresetChange): Promise<Preset> {
    const preset = await this.find(id);
    if (change.settings) checkSettings(preset.kind, change.settings);
    const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    const changed = { ...preset, ...given, changedAt: this.surroundings.now() };
    return this.told(await this.database.transaction((manager) => manager.save(PresetEntity, changed)));
  }

  private told(preset: PresetEntity): Preset {
    this.bus.publish({ type: 'preset', presetId: preset.id });
    return describe(preset);
  }

  private async find(id: string): Promise<PresetEntity> {
    checkOwn(id);
    return checkThere('preset', id, await this.entities.findOneBy({ id }));
  }

  private get entities() {
    return this.database.of(PresetEntity);
  }
}

/** @throws HttpProblem 409 for presets that ship */
export function checkOwn(id: string): void {
  if (SHIPPED.some((preset) => preset.id === id))
    throw new HttpProblem(409, 'read-only', 'Presets that ship stay as they are. Keep your own beside it.');
}

/** Settings of a kind of another version can't be checked, and are kept. */
function checkSettings(kind: string, settings: Record<string, unknown>): void {
  const faults = chainFaults([{ kind, on: true, mix: 1, settings }]).filter(({ code }) => code === 'bad-setting');
  if (faults.length)
    throw new InvalidChainError('bad-setting', faults.map(({ message }) => message).join(' '), { faults });
}

const describe = ({ id, kind, name, tags, settings }: PresetEntity): Preset => ({
  id,
  kind,
  name,
  tags,
  settings,
  shipped: false,
});

const SHIPPED: readonly Preset[] = SHIPPED_PRESETS.map((preset) => ({
  ...preset,
  id: `${preset.kind} ${preset.name}`.toLowerCase().replace(/[^a-z0-9]+/g, '-'),
  shipped: true,
}));
