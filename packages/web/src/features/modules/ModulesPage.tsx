import { Button, FileButton } from '@mantine/core';
import type { ProcessorModule } from '@tonos/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { For } from '../../people/For.tsx';
import { useMay } from '../../people/use-me.ts';
import { say } from '../../ui/notify.ts';
import { Page } from '../../ui/Page.tsx';
import { sizeText } from '../../ui/size-text.ts';
import { ThrowAwayButton } from '../../ui/ThrowAwayButton.tsx';
import { Trouble } from '../../ui/Trouble.tsx';
import { LedgerHead } from '../../ui/table/LedgerHead.tsx';
import { moment } from '../../ui/time.ts';
import classes from './Modules.module.css';
import { byName, saysText, settingsText } from './module-texts.ts';

/** Processes of one's own: what chains may take as a step. */
export function ModulesPage() {
  const { data: modules, error, refetch } = api.useModulesQuery();
  const mayChange = useMay('engineer');
  const [refused, setRefused] = useState<string | null>(null);
  return (
    <Page
      title="Modules"
      about="Processes of your own, as WebAssembly. A chain takes one as a step; it can reach nothing but the sound it is given."
      acts={
        <For least="engineer">
          <BringIn onRefused={setRefused} />
        </For>
      }
    >
      {refused && (
        <p role="alert" className="verdict-over">
          {refused}
        </p>
      )}
      {error && <Trouble error={error} retry={refetch} />}
      {modules?.length === 0 && (
        <p className="empty">
          No module yet. Bring in a .wasm file that was made with the kit: packages/module-kit, described in
          docs/modules.md.
        </p>
      )}
      {modules && modules.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={['Module', 'Settings', 'Used by', 'Brought in']} acts={mayChange} />
          <tbody>
            {byName(modules).map((one) => (
              <ModuleRow key={one.id} module={one} mayChange={mayChange} />
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}

function ModuleRow({ module, mayChange }: { module: ProcessorModule; mayChange: boolean }) {
  const { id, sha256, manifest, bytes, fileName, author, createdAt, usedBy } = module;
  const name = `${manifest.name} ${manifest.version}`;
  const isUsed = usedBy.chains.length + usedBy.orders.length + usedBy.presets > 0;
  return (
    <tr className={classes.row}>
      <td className="name">
        {name}
        <div className={`small ${classes.summary}`}>{manifest.summary}</div>
        <div className={`quiet small ${classes.says}`}>{saysText(manifest)}</div>
      </td>
      <td className="small">
        <ul className={classes.settings}>
          {settingsText(manifest).map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </td>
      <td className={`small ${classes.uses}`}>
        {usedBy.chains.map((chain) => (
          <Link key={chain.id} to={`/chains/${chain.id}`}>
            {chain.name}
          </Link>
        ))}
        {usedBy.orders.map((order) => (
          <Link key={order.id} to={`/orders/${order.id}`}>
            {order.name}
          </Link>
        ))}
        {usedBy.presets > 0 && <div>{usedBy.presets === 1 ? 'a preset' : `${usedBy.presets} presets`}</div>}
        {!isUsed && <span className="quiet">nothing</span>}
      </td>
      <td className="quiet small">
        {moment(createdAt)}
        {author && `, ${author}`}
        <div>
          {fileName}, {sizeText(bytes)}
        </div>
        <div className={classes.hash} title={sha256}>
          {sha256.slice(0, 12)}&hellip;
        </div>
      </td>
      {mayChange && (
        <td>
          <ThrowAwayButton what={{ kind: 'module', id }} name={name} disabled={isUsed} />
        </td>
      )}
    </tr>
  );
}

/** Brings a file in; what it is not, or does not keep, is said where one looks. */
function BringIn({ onRefused }: { onRefused(why: string | null): void }) {
  const [add, { isLoading }] = api.useAddModuleMutation();
  const take = async (file: File | null) => {
    if (!file) return;
    onRefused(null);
    const { data, error } = await add({ name: file.name, file });
    if (error) onRefused(reasonOf(error));
    else say(`${data.manifest.name} ${data.manifest.version} is in the library: it keeps the step contract.`);
  };
  return (
    <FileButton accept=".wasm,application/wasm" onChange={(file) => void take(file)}>
      {(button) => (
        <Button {...button} loading={isLoading}>
          Bring in a module
        </Button>
      )}
    </FileButton>
  );
}
