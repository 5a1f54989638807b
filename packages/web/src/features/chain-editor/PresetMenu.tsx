import { ActionIcon, Button, Group, Popover, Select, TagsInput, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { IconDeviceFloppy } from '@tabler/icons-react';
import { moduleOf } from '@tonos/core';
import { memo } from 'react';
import { api } from '../../api/api.ts';
import { say, sayError } from '../../ui/notify.ts';
import type { EditedStep } from './chain-slice.ts';
import classes from './StepPanel.module.css';

/** Stored settings of this kind of step: taken from the list, kept as new ones, or put in the place of one's own. */
export const PresetMenu = memo(function PresetMenu({
  step,
  onTake,
}: {
  step: EditedStep;
  onTake(settings: Record<string, unknown>): void;
}) {
  const { data = [] } = api.usePresetsQuery();
  const [keeping, form] = useDisclosure(false);
  const presets = data.filter((one) => one.kind === step.kind && moduleOf(one)?.sha256 === moduleOf(step)?.sha256);
  const same = presets.find(({ settings }) => JSON.stringify(settings) === JSON.stringify(step.settings));
  return (
    <span className={classes.presets}>
      <Select
        size="xs"
        w={230}
        aria-label="Preset"
        placeholder={presets.length ? 'Take a preset' : 'no preset yet'}
        disabled={!presets.length}
        searchable
        allowDeselect={false}
        data={[
          { group: 'Your own', items: optionsOf(presets.filter(({ shipped }) => !shipped)) },
          { group: 'Shipped', items: optionsOf(presets.filter(({ shipped }) => shipped)) },
        ].filter(({ items }) => items.length)}
        value={same?.id ?? null}
        onChange={(id) => {
          const preset = presets.find((one) => one.id === id);
          if (preset) onTake(preset.settings);
        }}
      />
      <Popover
        opened={keeping}
        onChange={(opened) => (opened ? form.open() : form.close())}
        position="bottom-start"
        shadow="md"
        trapFocus
      >
        <Popover.Target>
          <ActionIcon variant="default" size="md" aria-label="Keep these settings as a preset" onClick={form.toggle}>
            <IconDeviceFloppy size={16} />
          </ActionIcon>
        </Popover.Target>
        <Popover.Dropdown>{keeping && <KeepPreset step={step} onDone={form.close} />}</Popover.Dropdown>
      </Popover>
    </span>
  );
});

const optionsOf = (presets: readonly { id: string; name: string; tags: string[] }[]) =>
  presets.map(({ id, name, tags }) => ({ value: id, label: tags.length ? `${name} (${tags.join(', ')})` : name }));

function KeepPreset({ step: { kind, settings }, onDone }: { step: EditedStep; onDone(): void }) {
  const { data = [] } = api.usePresetsQuery();
  const [add] = api.useAddPresetMutation();
  const [change] = api.useChangePresetMutation();
  const form = useForm<{ name: string; tags: string[] }>({ initialValues: { name: '', tags: [] } });
  const { name, tags } = form.values;
  const taken = data.find((one) => one.kind === kind && !one.shipped && one.name === name.trim());
  const keep = async () => {
    const { error } = taken
      ? await change({ id: taken.id, settings, tags: tags.length ? tags : undefined })
      : await add({ format: 'tonos.preset/1', kind, name, tags, settings });
    if (error) return sayError('The preset was not kept', error);
    say(taken ? `${name} has these settings now.` : `${name} is kept.`);
    onDone();
  };
  return (
    <form className={classes.keepPreset} onSubmit={form.onSubmit(() => void keep())}>
      <TextInput size="xs" label="Name" maxLength={120} data-autofocus {...form.getInputProps('name')} />
      <TagsInput
        size="xs"
        label="Microphone, room, speaker"
        {...form.getInputProps('tags')}
        comboboxProps={{ withinPortal: false }}
      />
      <Group justify="flex-end">
        <Button size="xs" type="submit" disabled={!name.trim()}>
          {taken ? 'Replace the one of this name' : 'Keep as new'}
        </Button>
      </Group>
    </form>
  );
}
