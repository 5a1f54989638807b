import { Select } from '@mantine/core';
import { api } from '../api/api.ts';

interface TargetSelectProps {
  targetId: string | null;
  onChange(id: string | null): void;
  error?: string;
}

/** The target of a run. */
export function TargetSelect({ targetId, onChange, error }: TargetSelectProps) {
  const { data: targets = [] } = api.useTargetsQuery();
  return (
    <Select
      label="Target"
      data={targets.map(({ id, name }) => ({ value: id, label: name }))}
      value={targetId}
      allowDeselect={false}
      searchable
      placeholder="Choose a target"
      onChange={onChange}
      error={error}
    />
  );
}
