import { Button, Checkbox, FileButton, Group, Modal, MultiSelect, Stack, Text } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { Recording, RunningOrder, Title } from '@tonos/contract';
import { placesOf } from '@tonos/core';
import { memo, useMemo } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { ForecastView } from '../../forecast/ForecastView.tsx';
import { TargetSelect } from '../../ui/TargetSelect.tsx';
import {
  deliveriesOf,
  fillingOf,
  fillsOf,
  linkedFillings,
  type ReadFills,
  readFillsCsv,
  type Turns,
  withDeliveries,
} from './fills.ts';

interface RunOrderFormProps {
  opened: boolean;
  onClose(): void;
  title: Title;
  running: RunningOrder;
  recordings: readonly Recording[];
}

const MOST_SHOWN = 6;

/** What is asked for; the target is the title's own where none is chosen. */
interface Wanted {
  targetId: string | null;
  bodies: string[];
  turns: Turns;
  /** In the place of both, where one was read. */
  table: (ReadFills & { name: string }) | null;
  /** What was delivered in the place of what was recorded. */
  asDelivered: boolean;
}

/** What fills the places, programme by programme: a body each, the others by one for all, in turn, or all of them by a table. */
export const RunOrderForm = memo(function RunOrderForm({
  opened,
  onClose,
  title,
  running,
  recordings,
}: RunOrderFormProps) {
  const { order, revision } = running;
  const places = useMemo(() => placesOf(order), [order]);
  const bodyPlace = places.includes('body') ? 'body' : places[0];
  const form = useForm<Wanted>({
    initialValues: { targetId: null, bodies: [], turns: {}, table: null, asDelivered: false },
  });
  const { bodies, turns, table, asDelivered } = form.values;
  const [start, { isLoading, error, reset }] = api.useStartRunMutation();
  const navigate = useNavigate();
  const targetId = form.values.targetId ?? title.targetId;
  const { data: sets = [] } = api.useSetsQuery(title.id, { skip: !opened });
  const options = recordings.map(fillingOf);
  const voices = recordings.filter(({ kind }) => kind === 'voice').map(fillingOf);
  const linked = linkedFillings(sets, recordings);
  const { data: standings = [] } = api.useStandingQuery(title.id, { skip: !opened });
  const chosen = table?.fills ?? (bodyPlace === undefined ? [{}] : fillsOf(bodyPlace, bodies, turns));
  const deliveries = deliveriesOf(standings);
  const have = new Set(chosen.flatMap((fill) => Object.values(fill)).filter((id) => deliveries.has(id))).size;
  const fills = asDelivered ? withDeliveries(chosen, deliveries) : chosen;
  const refused = table?.refused ?? [];
  const question =
    opened && targetId && fills.length && !refused.length
      ? { titleId: title.id, orderId: running.id, targetId, revision, fills: fills.map((fill) => ({ ...fill })) }
      : null;
  const submit = async () => {
    if (!question) return;
    const { data } = await start(question);
    if (data) void navigate(`/runs/${data.id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} size="lg" title={`Run \u201c${order.name}\u201d, revision ${revision}`}>
      <form onSubmit={form.onSubmit(() => void submit())}>
        <Stack>
          <TargetSelect
            targetId={targetId}
            onChange={(value) => {
              form.setFieldValue('targetId', value);
              reset();
            }}
          />
          {!table &&
            places.map((place) =>
              place === bodyPlace ? (
                <MultiSelect
                  key={place}
                  label={`What fills \u201c${place}\u201d`}
                  description="One programme for each, in this order."
                  data={
                    linked.length
                      ? [
                          { group: 'Recordings', items: voices },
                          { group: 'Linked, as one sound', items: linked },
                        ]
                      : voices
                  }
                  searchable
                  maxDropdownHeight={340}
                  {...form.getInputProps('bodies')}
                />
              ) : (
                <MultiSelect
                  key={place}
                  label={`What fills \u201c${place}\u201d`}
                  description="One serves all of them; several take turns."
                  data={options}
                  searchable
                  value={[...(turns[place] ?? [])]}
                  onChange={(ids) => form.setFieldValue('turns', { ...turns, [place]: ids })}
                />
              ),
            )}
          {places.length > 0 && (
            <Group gap={10}>
              <FileButton
                accept="text/csv,.csv"
                onChange={async (file) =>
                  file &&
                  form.setFieldValue('table', {
                    name: file.name,
                    ...readFillsCsv(await file.text(), places, recordings, linked),
                  })
                }
              >
                {(props) => (
                  <Button {...props} size="compact-sm" variant="default">
                    {table ? 'Another table' : 'Fill by a table (CSV)'}
                  </Button>
                )}
              </FileButton>
              <Text size="sm" c="var(--ink-2)">
                {table ? table.name : `Columns: ${places.join(', ')}; a line for each programme.`}
              </Text>
              {table && (
                <Button size="compact-sm" variant="subtle" onClick={() => form.setFieldValue('table', null)}>
                  Without the table
                </Button>
              )}
            </Group>
          )}
          {have > 0 && (
            <Checkbox
              label="Put in what was delivered of them"
              description={`${have} of what is chosen ${have === 1 ? 'has a delivery that is' : 'have deliveries that are'} within or accepted; the rest goes in as recorded.`}
              {...form.getInputProps('asDelivered', { type: 'checkbox' })}
            />
          )}
          {refused.length > 0 && <p className="verdict-over">{refused.slice(0, MOST_SHOWN).join(' ')}</p>}
          <ForecastView question={question} count={fills.length} />
          {error !== undefined && <p className="verdict-over">{reasonOf(error)}</p>}
          <Group justify="flex-end">
            <Button variant="default" onClick={onClose}>
              Cancel
            </Button>
            <Button type="submit" loading={isLoading} disabled={!question}>
              {fills.length === 1 ? 'Start the run' : `Start ${fills.length} programmes`}
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
});
