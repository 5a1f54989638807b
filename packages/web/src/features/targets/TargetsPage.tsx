import { Button, Modal, VisuallyHidden } from '@mantine/core';
import { LIMITABLE_MEASURES, type Limit, type OutputFormat, type TargetFile, targetFile } from '@tonos/core';
import { useState } from 'react';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { ApproveForm } from '../../editing/ApproveForm.tsx';
import { For } from '../../people/For.tsx';
import { useMay, useMe } from '../../people/use-me.ts';
import { formatName } from '../../ui/format-name.ts';
import { ImportButton } from '../../ui/ImportButton.tsx';
import { limitText } from '../../ui/limit-text.ts';
import { say, sayError } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { readJsonFile } from '../../ui/read-json-file.ts';
import { saveJson } from '../../ui/save-file.ts';
import { Trouble } from '../../ui/Trouble.tsx';
import { useThrowAway } from '../../ui/use-throw-away.ts';
import { TargetForm } from './TargetForm.tsx';
import classes from './TargetsPage.module.css';

const EMPTY: TargetFile = {
  format: 'tonos.target/1',
  name: '',
  notes: '',
  limits: [
    { measure: 'integratedLufs', min: -17, max: -15, aim: -16, required: true },
    { measure: 'truePeakDbtp', min: null, max: -1, required: true },
  ],
  output: { container: 'wav', sampleRateHz: 48000, channels: null, bitDepth: 24 },
};

/** Delivery specifications: what a delivered file must measure, and what it is. */
export function TargetsPage() {
  const { data: targets, error, refetch } = api.useTargetsQuery();
  const [edited, setEdited] = useState<{ first: TargetFile; id: string | null } | null>(null);
  const [add] = api.useAddTargetMutation();
  const [change] = api.useChangeTargetMutation();
  const throwAway = useThrowAway();
  const me = useMe();
  const isLead = useMay('lead');
  const [approved, setApproved] = useState<{ id: string; name: string } | null>(null);
  const [approveTarget] = api.useApproveTargetMutation();
  const [withdraw] = api.useWithdrawTargetApprovalMutation();
  const approve = async (id: string, sentence: string | null) => {
    const { error: refused } = await (sentence === null ? withdraw(id) : approveTarget({ id, sentence }));
    if (refused) sayError('The target stays as it was', refused);
    setApproved(null);
  };
  const save = async (file: TargetFile) => {
    const result = edited?.id ? await change({ id: edited.id, file }) : await add(file);
    if (result.error) sayError('The target was not saved', result.error);
    else setEdited(null);
  };
  return (
    <Page
      title="Targets"
      about="What a delivered file must measure. Those that ship are read-only: copy one to change it."
      acts={
        <For least="engineer">
          <ImportButton
            what="target"
            onText={async (text, fileName) => {
              const file = readJsonFile(text, fileName, 'tonos.target/1', targetFile);
              const result = await add(file);
              if (result.error) throw new Error(reasonOf(result.error));
              say(`${file.name} is brought in.`);
            }}
          />
          <Button onClick={() => setEdited({ first: EMPTY, id: null })}>New target</Button>
        </For>
      }
    >
      <Modal
        opened={edited !== null}
        onClose={() => setEdited(null)}
        size={720}
        title={edited?.id ? `Change \u201c${edited.first.name}\u201d` : 'New target'}
      >
        {edited && (
          <TargetForm
            first={edited.first}
            submit={edited.id ? 'Save as the next version' : 'Make target'}
            onCancel={() => setEdited(null)}
            onSubmit={save}
          />
        )}
      </Modal>
      {error && <Trouble error={error} retry={refetch} />}
      {targets && (
        <table className="ledger">
          <thead>
            <tr>
              <th>Target</th>
              <th>Limits</th>
              <th>Delivered as</th>
              <th>
                <VisuallyHidden>Acts</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {targets.map(({ id, shipped, version, superseded: _, personId, approval, ...file }) => {
              const isOwn = !shipped && (isLead || personId === me?.id) && (isLead || !approval);
              const { name, limits, output, naming } = file;
              return (
                <tr key={id}>
                  <td className="name">
                    {name}
                    {version > 1 && <span className="quiet small"> version {version}</span>}
                    {approval && (
                      <div className={classes.approval}>
                        approved{approval.by && ` by ${approval.by}`}: {approval.sentence}
                      </div>
                    )}
                  </td>
                  <td>
                    <ul className={classes.limits}>
                      {limits.map((limit) => (
                        <LimitLine key={limit.measure} limit={limit} />
                      ))}
                    </ul>
                  </td>
                  <td className={`small ${classes.delivered}`}>
                    {outputText(output)}
                    {naming && <div className="quiet figure">{naming}</div>}
                  </td>
                  <td className={classes.acts}>
                    {!shipped && me?.shared && (
                      <For least="lead">
                        <Act
                          label={approval ? 'Approve no longer' : 'Approve'}
                          of={name}
                          onClick={() => (approval ? void approve(id, null) : setApproved({ id, name }))}
                        />
                      </For>
                    )}
                    {isOwn && <Act label="Change" of={name} onClick={() => setEdited({ first: file, id })} />}
                    <Act
                      label="Copy"
                      of={name}
                      onClick={() => setEdited({ first: { ...file, name: `${name}, copy` }, id: null })}
                    />
                    <Act label="Export" of={name} onClick={() => saveJson(name, file)} />
                    {isOwn && (
                      <Act
                        label="Move to the trash"
                        of={name}
                        onClick={() => void throwAway({ kind: 'target', id }, name)}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <ApproveForm
        what={approved && `\u201c${approved.name}\u201d`}
        onClose={() => setApproved(null)}
        onApprove={(sentence) => approve(approved!.id, sentence)}
      />
    </Page>
  );
}

/** An act on one row: its name says on which, for whoever hears it without the row. */
function Act({ label, of, onClick }: { label: string; of: string; onClick: () => void }) {
  return (
    <Button size="compact-xs" variant="subtle" aria-label={`${label} ${of}`} onClick={onClick}>
      {label}
    </Button>
  );
}

function LimitLine({ limit }: { limit: Limit }) {
  const { title, unit } = LIMITABLE_MEASURES[limit.measure];
  return (
    <li>
      {title} <span className="figure">{limitText(limit)}</span>{' '}
      <span className="unit">{limit.measure === 'durationSeconds' ? '' : unit}</span>
      {!limit.required && <span className="quiet small"> advisory</span>}
    </li>
  );
}

function outputText({ container, sampleRateHz, channels, bitDepth, bitrateKbps }: OutputFormat): string {
  const depth = bitDepth ? `${bitDepth}-bit` : '';
  const rate = bitrateKbps ? `${bitrateKbps}\u00a0kbps` : '';
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : '';
  return [
    formatName(container),
    depth,
    rate,
    layout,
    sampleRateHz ? `${sampleRateHz / 1000}\u00a0kHz` : 'at the source\u2019s rate',
  ]
    .filter(Boolean)
    .join(' ');
}
