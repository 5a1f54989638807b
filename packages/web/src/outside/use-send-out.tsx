import type { NewOuting, Outing } from '@tonos/contract';
import { useNavigate } from 'react-router';
import { api } from '../api/api.ts';
import { sayError } from '../ui/notify.ts';
import { sayUndo } from '../ui/say-undo.tsx';

/** Sends recordings out to other programs, and says where they go. */
export function useSendOut() {
  const [send, { isLoading }] = api.useSendOutMutation();
  const navigate = useNavigate();
  const sendOut = async (what: Pick<NewOuting, 'recordingIds'> & Partial<NewOuting>) => {
    const { data, error } = await send({ chainId: null, stepId: null, ...what });
    if (!data) return sayError('Nothing was sent out', error);
    const many = data.length === 1 ? 'It goes' : `${data.length} recordings go`;
    sayUndo(`${many} to the exchange folder.`, () => void navigate('/outside'), 'See them');
  };
  return { sendOut, isSending: isLoading };
}

/** Takes what came back out of its place again. */
export function useTakeOut() {
  const [take] = api.useTakeOutOutingMutation();
  return async ({ id, fileName }: Outing) => {
    const { error } = await take(id);
    if (error) sayError(`${fileName} was not taken out`, error);
  };
}
