import { Button, Group, Modal, Select, Stack } from '@mantine/core';
import { useForm } from '@mantine/form';
import type { RecordingSet, Title } from '@tonos/contract';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { ForecastView } from '../../forecast/ForecastView.tsx';
import { TargetSelect } from '../../ui/TargetSelect.tsx';

interface StartRunFormProps {
  opened: boolean;
  onClose(): void;
  title: Title;
  recordingIds: string[];
  /** The chain to begin with, where it is not the title's own. */
  firstChainId?: string | null;
}

const LATEST = 'latest';

/** Who is linked is run together. */
function withLinked(ids: readonly string[], sets: readonly RecordingSet[]): string[] {
  const mates = sets
    .map(({ members }) => members.map(({ recordingId }) => recordingId))
    .filter((members) => members.some((id) => ids.includes(id)));
  return [...new Set([...ids, ...mates.flat()])];
}

/** Which chain, which of its revisions, which target. Offers what the title's last run used. */
export function StartRunForm({ opened, onClose, title, recordingIds: chosen, firstChainId = null }: StartRunFormProps) {
  const { data: sets = [] } = api.useSetsQuery(title.id);
  const recordingIds = withLinked(chosen, sets);
  const linked = recordingIds.length - chosen.length;
  const { data: chains = [] } = api.useChainsQuery();
  const form = useForm<{ chainId: string | null; targetId: string | null; revision: string }>({
    initialValues: { chainId: firstChainId, targetId: null, revision: LATEST },
  });
  const [start, { isLoading, error, reset }] = api.useStartRunMutation();
  const navigate = useNavigate();
  // what is not chosen here is the title's own
  const chainId = form.values.chainId ?? title.chainId;
  const targetId = form.values.targetId ?? title.targetId;
  const { data: chain } = api.useChainQuery(chainId ?? '', { skip: !chainId });
  const revisionNumber = form.values.revision === LATEST ? undefined : Number(form.values.revision);
  const submit = async () => {
    const { data } = await start({
      titleId: title.id,
      recordingIds,
      chainId: chainId!,
      targetId: targetId!,
      revision: revisionNumber,
    });
    if (data) void navigate(`/runs/${data.id}`);
  };
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      size="lg"
      title={`Run ${recordingIds.length} ${recordingIds.length === 1 ? 'recording' : 'recordings'}${linked ? `, ${linked} of them linked with what was chosen` : ''}`}
    >
      <form onSubmit={form.onSubmit(() => void submit())}>
        <Stack>
          <Select
            label="Chain"
            data={chains.map(({ id, name }) => ({ value: id, label: name }))}
            value={chainId}
            allowDeselect={false}
            searchable
            placeholder="Choose a chain"
            onChange={(value) => {
              form.setValues({ chainId: value, revision: LATEST });
              reset();
            }}
          />
          <Select
            label="Revision"
            data={[
              { value: LATEST, label: chain ? `latest (${chain.revision})` : 'latest' },
              ...(chain?.revisions ?? []).slice(1).map(({ revision, note }) => ({
                value: String(revision),
                label: note ? `${revision}: ${note}` : String(revision),
              })),
            ]}
            allowDeselect={false}
            {...form.getInputProps('revision')}
            description={
              chain?.hasDraft
                ? 'The draft of this chain is not part of any revision: keep it first to run it.'
                : undefined
            }
          />
          <TargetSelect
            targetId={targetId}
            onChange={(value) => {
              form.setFieldValue('targetId', value);
              reset();
            }}
            error={error ? reasonOf(error) : undefined}
          />
          <ForecastView
            count={recordingIds.length}
            question={
              opened && chainId && targetId
                ? {
                    titleId: title.id,
                    recordingIds,
                    chainId,
                    targetId,
                    ...(revisionNumber ? { revision: revisionNumber } : {}),
                  }
                : null
            }
          />
          <Group justify="flex-end">
            <Button variant="default" onClick={onClose}>
              Cancel
            </Button>
            <Button
              type="submit"
              data-autofocus
              loading={isLoading}
              disabled={!chainId || !targetId || !recordingIds.length}
            >
              Start run
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}
