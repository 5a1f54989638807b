import { IconPlayerPauseFilled, IconPlayerPlayFilled } from '@tabler/icons-react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { RowButton } from '../ui/table/RowControls.tsx';
import { type Listened, listeningSlice } from './listening-slice.ts';

const { listened: listenedTo, playingChanged } = listeningSlice.actions;

/** Plays one thing from its start; while it plays, pauses it and goes on. */
export function PlayMark({ listened }: { listened: Listened }) {
  const dispatch = useAppDispatch();
  const current = useAppSelector((state) => state.listening);
  const own =
    current.listened?.source.track.url === listened.source.track.url &&
    current.listened.result?.track.url === listened.result?.track.url;
  const playing = own && current.playing;
  const press = () => {
    if (own) dispatch(playingChanged(!playing));
    else dispatch(listenedTo({ listened, side: listened.result ? 'result' : 'source' }));
  };
  return (
    <RowButton aria-label={`${playing ? 'Pause' : 'Play'} ${listened.name}`} onClick={press}>
      {playing ? <IconPlayerPauseFilled size={14} /> : <IconPlayerPlayFilled size={14} />}
    </RowButton>
  );
}
