import { Select } from '@mantine/core';
import type { ProcessorModule } from '@tonos/contract';
import { type ChainStep, CUSTOM, type ModuleName, moduleOf, stepOf } from '@tonos/core';
import { useId } from 'react';
import { Link } from 'react-router';
import { api } from '../api/api.ts';
import classes from './ModuleField.module.css';
import { defaultsOf, settingsOf } from './step-catalogue.ts';

/** Which module a step is: one of the library, or another version of it. Settings that both have, and may have so, stay. */
export function ModuleField({ step, onTake }: { step: ChainStep; onTake(settings: ChainStep['settings']): void }) {
  const { data = [] } = api.useModulesQuery();
  const id = useId();
  const named = moduleOf(step);
  return (
    <div className={classes.module}>
      <label htmlFor={id}>Module</label>
      <Select
        id={id}
        size="xs"
        w={230}
        placeholder={data.length ? 'Choose one' : 'none in the library yet'}
        disabled={!data.length}
        allowDeselect={false}
        data={data.map(({ sha256, manifest }) => ({ value: sha256, label: `${manifest.name} ${manifest.version}` }))}
        value={named?.sha256 ?? null}
        onChange={(sha256) => {
          const chosen = data.find((one) => one.sha256 === sha256);
          if (chosen) onTake(settingsWith(namedAs(chosen), step.settings));
        }}
      />
      <Link to="/modules" className="small">
        Library
      </Link>
    </div>
  );
}

/** As a step names a module. */
export const namedAs = ({ sha256, manifest: { name, version } }: ProcessorModule): ModuleName => ({
  sha256,
  name,
  version,
});

/** A module's settings: what stood there before, where it still may, and its defaults. */
export function settingsWith(module: ModuleName, before: ChainStep['settings'] = {}): ChainStep['settings'] {
  const bare = { kind: CUSTOM, settings: { module } };
  const settings: ChainStep['settings'] = { module, ...defaultsOf(settingsOf(bare)) };
  for (const key of Object.keys(settings)) {
    if (key === 'module' || before[key] === undefined) continue;
    const tried = { ...settings, [key]: before[key] };
    if (stepOf(bare)?.settings.safeParse(tried).success) settings[key] = before[key];
  }
  return settings;
}
