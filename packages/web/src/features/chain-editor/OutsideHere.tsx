import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { api } from '../../api/api.ts';
import { stateText } from '../../outside/outing-texts.ts';
import { useSendOut, useTakeOut } from '../../outside/use-send-out.tsx';
import { For } from '../../people/For.tsx';
import { useExample } from './ledger/use-example.ts';
import classes from './StepPanel.module.css';

/** The example as it is after a step: sent out to another program, and what came back of it. */
export function OutsideHere({ chainId, stepId }: { chainId: string; stepId: string }) {
  const { recording } = useExample(chainId);
  const { data } = api.useOutingsQuery();
  const { sendOut, isSending } = useSendOut();
  const takeOut = useTakeOut();
  if (!recording) return null;
  const own = data?.outings.filter(
    (one) => one.recordingId === recording.id && one.stepId === stepId && one.chainId === chainId,
  );
  return (
    <For least="engineer">
      <div className={classes.outside}>
        <Button
          size="compact-xs"
          variant="default"
          loading={isSending}
          title="The example as it is after this step, as a file for another program; what comes back is laid in here"
          onClick={() => void sendOut({ recordingIds: [recording.id], chainId, stepId })}
        >
          Send out after this step
        </Button>
        {own?.map((outing) => {
          const { text, isBad } = stateText(outing);
          return (
            <span key={outing.id} className="small">
              {outing.recordingName}: <span className={isBad ? 'advice' : 'quiet'}>{text}</span>
              {outing.laidIn && (
                <Button size="compact-xs" variant="subtle" ml={6} onClick={() => void takeOut(outing)}>
                  Take out
                </Button>
              )}
            </span>
          );
        })}
        {own && own.length > 0 && (
          <Link to="/outside" className="small">
            Outside
          </Link>
        )}
      </div>
    </For>
  );
}

/** Says of the example that its runs begin from outside: the figures here are of the chain's own steps. */
export function FrozenNote({ chainId, nameOf }: { chainId: string; nameOf(stepId: string): string | undefined }) {
  const { recording } = useExample(chainId);
  const frozen = recording?.frozen[chainId];
  const name = frozen && nameOf(frozen.stepId);
  if (!recording || !frozen) return null;
  return (
    <p className="advice">
      {name
        ? `A run of ${recording.name} takes sound from outside in the place of what comes after ${name}. The figures here are of the chain\u2019s own steps.`
        : `Sound from outside is kept for ${recording.name}, but the step it stood after is gone: runs do without it.`}
    </p>
  );
}
