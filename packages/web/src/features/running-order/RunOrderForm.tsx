import { Button, FileButton, Group, Modal, MultiSelect, Stack, Text } from '@mantine/core';
import type { Recording, RunningOrder, Title } from '@tonos/contract';
import { type OrderFile, placesOf, sentenceOf } from '@tonos/core';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { TargetSelect } from '../../ui/TargetSelect.tsx';
import { clock } from '../../ui/time.ts';
import { fillsOf, type ReadFills, readFillsCsv, type Turns } from './fills.ts';
import { type Fill, layOutOrder, secondsOf } from './lay-out-order.ts';

interface RunOrderFormProps {
  opened: boolean;
  onClose(): void;
  title: Title;
  running: RunningOrder;
  recordings: readonly Recording[];
}

const MOST_SHOWN = 6;

/** What fills the places, programme by programme: a body each, the others by one for all, in turn, or all of them by a table. */
export function RunOrderForm({ opened, onClose, title, running, recordings }: RunOrderFormProps) {
  const { order, revision } = running;
  const places = useMemo(() => placesOf(order), [order]);
  const bodyPlace = places.includes('body') ? 'body' : places[0];
  const [chosenTarget, setTarget] = useState<string | null>(null);
  const [bodies, setBodies] = useState<string[]>([]);
  const [turns, setTurns] = useState<Turns>({});
  const [table, setTable] = useState<ReadFills & { name: string }>();
  const [start, { isLoading, error, reset }] = api.useStartRunMutation();
  const navigate = useNavigate();
  const targetId = chosenTarget ?? title.targetId;
  const option = ({ id, name, givenName }: Recording) => ({ value: id, label: givenName || name });
  const options = recordings.map(option);
  const voices = recordings.filter(({ kind }) => kind === 'voice').map(option);
  const fills = table?.fills ?? (bodyPlace === undefined ? [{}] : fillsOf(bodyPlace, bodies, turns));
  const refused = table?.refused ?? [];
  const submit = async () => {
    const { data } = await start({ titleId: title.id, orderId: running.id, targetId: targetId!, revision, fills });
    if (data) void navigate(`/runs/${data.id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} size="lg" title={`Run \u201c${order.name}\u201d, revision ${revision}`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <Stack>
          <TargetSelect
            targetId={targetId}
            onChange={(value) => {
              setTarget(value);
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
                  data={voices}
                  searchable
                  value={bodies}
                  onChange={setBodies}
                />
              ) : (
                <MultiSelect
                  key={place}
                  label={`What fills \u201c${place}\u201d`}
                  description="One serves all of them; several take turns."
                  data={options}
                  searchable
                  value={[...(turns[place] ?? [])]}
                  onChange={(ids) => setTurns({ ...turns, [place]: ids })}
                />
              ),
            )}
          {places.length > 0 && (
            <Group gap={10}>
              <FileButton
                accept="text/csv,.csv"
                onChange={async (file) =>
                  file && setTable({ name: file.name, ...readFillsCsv(await file.text(), places, recordings) })
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
                <Button size="compact-sm" variant="subtle" onClick={() => setTable(undefined)}>
                  Without the table
                </Button>
              )}
            </Group>
          )}
          {refused.length > 0 && <p className="verdict-over">{refused.slice(0, MOST_SHOWN).join(' ')}</p>}
          <Foretold order={order} fills={fills} recordings={recordings} places={places} />
          {error !== undefined && <p className="verdict-over">{reasonOf(error)}</p>}
          <Group justify="flex-end">
            <Button variant="default" onClick={onClose}>
              Cancel
            </Button>
            <Button type="submit" loading={isLoading} disabled={!targetId || !fills.length || refused.length > 0}>
              {fills.length === 1 ? 'Start the run' : `Start ${fills.length} programmes`}
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}

interface ForetoldProps {
  order: OrderFile;
  fills: readonly Fill[];
  recordings: readonly Recording[];
  places: readonly string[];
}

/** Which programme lacks what, and how long they will be, before anything is begun. */
function Foretold({ order, fills, recordings, places }: ForetoldProps) {
  const known = useMemo(() => new Map(recordings.map((recording) => [recording.id, recording])), [recordings]);
  const told = fills.map((fill) => {
    const names = places.map((place) => known.get(fill[place] ?? '')).map((one) => one && (one.givenName || one.name));
    const empty = places.filter((place) => !fill[place]);
    const { resolved, faults } = layOutOrder(order, known, fill);
    return {
      name: names.filter(Boolean)[0] ?? order.name,
      seconds: resolved && secondsOf(resolved.frames),
      lacks: [...empty.map((place) => `nothing fills \u201c${place}\u201d.`), ...faults.map(sentenceOf)],
    };
  });
  if (!told.length) return null;
  const lacking = told.filter(({ lacks }) => lacks.length);
  const lengths = told.flatMap(({ seconds }) => (seconds === undefined ? [] : [seconds]));
  const [shortest, longest] = [Math.min(...lengths), Math.max(...lengths)];
  return (
    <div>
      {lengths.length > 0 && (
        <p className="quiet">
          {told.length === 1 ? 'One programme' : `${told.length} programmes`},{' '}
          {clock(shortest) === clock(longest) ? clock(longest) : `${clock(shortest)} to ${clock(longest)}`} long.
        </p>
      )}
      {lacking.slice(0, MOST_SHOWN).map(({ name, lacks }) => (
        <p key={name} className="verdict-over">
          {name}: {lacks.join(' ')}
        </p>
      ))}
      {lacking.length > MOST_SHOWN && <p className="quiet">and {lacking.length - MOST_SHOWN} more</p>}
    </div>
  );
}
