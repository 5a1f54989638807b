import { Select } from '@mantine/core';
import { useState } from 'react';
import { api } from '../api/api.ts';

/** A title to choose recordings of: the one that is given first, or the first there is. */
export function useTitleChoice(first?: string) {
  const { data: titles = [] } = api.useTitlesQuery();
  const [picked, setPicked] = useState<string | null>(null);
  const titleId = picked ?? first ?? titles[0]?.id ?? null;
  const { data: recordings = [] } = api.useRecordingsQuery(titleId ?? '', { skip: !titleId });
  const select = (
    <Select
      size="xs"
      label="Title"
      allowDeselect={false}
      data={titles.map(({ id, name }) => ({ value: id, label: name }))}
      value={titleId}
      onChange={setPicked}
      comboboxProps={{ withinPortal: false }}
    />
  );
  return { select, measured: recordings.filter(({ measurement }) => measurement) };
}
