import { Button } from '@mantine/core';
import type { ChainSummary } from '@tonos/contract';
import { newestNamed, type OrderFile } from '@tonos/core';
import { api } from '../../api/api.ts';
import { type ChainAccount, StepList } from '../../steps/StepList.tsx';
import { namedSteps, ownChain } from '../../steps/step-list.ts';
import classes from './GroupTable.module.css';

interface ChainInPlaceProps {
  /** As messages call what it is the chain of. */
  called: string;
  chain: OrderFile['chain'];
  chains: readonly ChainSummary[];
  /** What it was measured to do. */
  account: ChainAccount | undefined;
  set(chain: OrderFile['chain'], touched: string | null): void;
}

/** A chain opened where a programme uses it: what is changed is heard at once, and stays with this order. */
export function ChainInPlace({ called, chain, chains, account, set }: ChainInPlaceProps) {
  const shared = newestNamed(chains, typeof chain === 'string' ? chain : (chain?.name ?? ''));
  const { data } = api.useChainQuery(shared?.id ?? '', { skip: !shared });
  const isOwn = chain !== null && typeof chain !== 'string';
  const steps = isOwn ? chain.steps : chain === null ? [] : data?.steps;
  if (!steps) return null;
  const name = (typeof chain === 'string' ? chain : chain?.name) ?? `Chain of ${called}`;
  return (
    <div className={classes.inPlace}>
      <p className="quiet small">
        {isOwn ? (
          <>
            Steps of this order alone.
            {shared && (
              <Button size="compact-xs" variant="subtle" ml={8} onClick={() => set(shared.name, null)}>
                Back to the chain “{shared.name}”
              </Button>
            )}
          </>
        ) : (
          'What is changed here stays with this order; the shared chain is as it was.'
        )}
      </p>
      <StepList
        label={`Steps of ${called}`}
        steps={namedSteps(steps)}
        account={account}
        onChange={(next, touched) => set(ownChain(name, next), touched)}
      />
    </div>
  );
}
