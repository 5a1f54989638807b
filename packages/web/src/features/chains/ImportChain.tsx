import { Button, Group, Modal, Radio, Stack } from '@mantine/core';
import type { ChainSummary } from '@tonos/contract';
import { compareChains } from '@tonos/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../../api/api.ts';
import { ImportButton } from '../../ui/ImportButton.tsx';
import { say, sayError } from '../../ui/notify.ts';
import { personName } from '../../ui/person.ts';
import { type ReadChain, readChainFile } from './read-chain-file.ts';

/** Brings in a chain file: says what it holds and what it would change before anything is kept. */
export function ImportChain({ chains }: { chains: readonly ChainSummary[] }) {
  const [read, setRead] = useState<ReadChain | null>(null);
  return (
    <>
      <ImportButton what="chain" onText={(text, name) => setRead(readChainFile(text, name))} />
      <Modal opened={read !== null} onClose={() => setRead(null)} title="Bring in a chain" size="lg">
        {read && (
          <Confirm read={read} twin={chains.find(({ name }) => name === read.file.name)} onDone={() => setRead(null)} />
        )}
      </Modal>
    </>
  );
}

function Confirm({
  read: { file, remarks },
  twin,
  onDone,
}: {
  read: ReadChain;
  twin: ChainSummary | undefined;
  onDone(): void;
}) {
  const [as, setAs] = useState(twin ? 'revision' : 'new');
  const { data: known } = api.useChainQuery(twin?.id ?? '', { skip: !twin });
  const [add] = api.useAddChainMutation();
  const [keep] = api.useKeepRevisionMutation();
  const navigate = useNavigate();
  const differences = known ? compareChains(known.steps, file.steps) : [];
  const bring = async () => {
    const { data, error } =
      as === 'revision' && known
        ? await keep({
            id: known.id,
            steps: file.steps,
            note: 'brought in from a file',
            author: personName(),
            basedOn: known.revision,
            version: known.version,
          })
        : await add(file);
    if (!data) return sayError('The chain was not brought in', error);
    say(`${file.name} is brought in.`);
    onDone();
    void navigate(`/chains/${data.id}`);
  };
  return (
    <Stack>
      <div>
        <strong>{file.name}</strong>, {file.steps.length} {file.steps.length === 1 ? 'step' : 'steps'}
        {file.notes && <div className="quiet small">{file.notes}</div>}
      </div>
      {remarks.map((remark) => (
        <p key={remark} className="advice small">
          {remark}
        </p>
      ))}
      {twin && (
        <Radio.Group value={as} onChange={setAs} label={`There is a chain of this name, at revision ${twin.revision}.`}>
          <Stack gap={6} mt={6}>
            <Radio
              value="revision"
              label={`Keep it as revision ${twin.revision + 1} of that one: ${differences.length} ${differences.length === 1 ? 'step differs' : 'steps differ'}`}
            />
            <Radio value="new" label="Keep it as another chain of the same name" />
          </Stack>
        </Radio.Group>
      )}
      <Group justify="flex-end">
        <Button variant="default" onClick={onDone}>
          Cancel
        </Button>
        <Button onClick={() => void bring()} data-autofocus>
          Bring in
        </Button>
      </Group>
    </Stack>
  );
}
