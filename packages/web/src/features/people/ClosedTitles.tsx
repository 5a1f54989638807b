import { MultiSelect } from '@mantine/core';
import type { Title } from '@tonos/contract';

interface ClosedTitlesProps {
  titles: readonly Title[];
  value: string[];
  onChange(titleIds: string[]): void;
}

/** Which closed titles somebody knows of; nothing where no title is closed. */
export function ClosedTitles({ titles, value, onChange }: ClosedTitlesProps) {
  const closed = titles.filter((title) => title.closed);
  if (!closed.length) return null;
  return (
    <MultiSelect
      label="Closed titles that they know of"
      description="Open titles are there for everybody."
      data={closed.map(({ id, name }) => ({ value: id, label: name }))}
      value={value.filter((id) => closed.some((title) => title.id === id))}
      onChange={onChange}
      searchable
    />
  );
}
