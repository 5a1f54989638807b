import { ActionIcon, Modal, Tooltip } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useCallback } from 'react';
import { useNavigate } from 'react-router';
import { lazily } from '../ui/lazily.tsx';
import { say } from '../ui/notify.ts';
import type { ShownPlace } from './places.ts';
import { recall } from './recall.ts';
import classes from './ThumbIndex.module.css';
import { useIndexKeys } from './use-index-keys.ts';
import { usePlaces } from './use-places.ts';

const PlaceForm = lazily(async () => (await import('./PlaceForm.tsx')).PlaceForm);

const KINDS = { chain: 'chain', preset: 'preset', steps: 'steps' } as const;

/** Tabs at the page's edge, a letter each: what lies there is taken by the page that is open. */
export function ThumbIndex() {
  const { places, taken, put, clear } = usePlaces();
  const [adding, form] = useDisclosure(false);
  const navigate = useNavigate();
  const take = useCallback(
    (place: ShownPlace) => {
      if (recall(place)) return;
      if (place.content.kind === 'chain') void navigate(`/chains/${place.content.chainId}`);
      else say('Open a chain, or choose recordings of a title: there it can be used.');
    },
    [navigate],
  );
  const waiting = useIndexKeys(places, take);
  return (
    <aside className={classes.index} aria-label="Index" data-waiting={waiting || undefined}>
      <span className={classes.head} aria-hidden>
        Index
      </span>
      {places.map((place) => (
        <Tooltip
          key={place.letter}
          position="left"
          label={`${place.name}: ${KINDS[place.content.kind]}${place.own ? ', yours' : ''} (i ${place.letter})`}
        >
          <button type="button" className={classes.tab} data-own={place.own || undefined} onClick={() => take(place)}>
            <span className={classes.letter}>{place.letter}</span>
            {waiting && <span className={classes.name}>{place.name}</span>}
          </button>
        </Tooltip>
      ))}
      <Tooltip position="left" label="Put a chain or a preset into the index">
        <button type="button" className={classes.tab} aria-label="Put into the index" onClick={form.open}>
          <IconPlus size={13} />
        </button>
      </Tooltip>
      <Modal opened={adding} onClose={form.close} title="The index">
        {places.length > 0 && (
          <ul className={classes.list}>
            {places.map((place) => (
              <li key={place.letter}>
                <kbd>{place.letter}</kbd>
                <span className={classes.grows}>{place.name}</span>
                <span className="quiet small">
                  {KINDS[place.content.kind]}
                  {place.own ? ', yours' : ''}
                </span>
                <ActionIcon size="sm" aria-label={`Clear ${place.letter}`} onClick={() => void clear(place)}>
                  <IconX size={14} />
                </ActionIcon>
              </li>
            ))}
          </ul>
        )}
        <PlaceForm
          taken={taken}
          onPlace={async (placed) => {
            if (await put(placed)) form.close();
          }}
        />
      </Modal>
    </aside>
  );
}
