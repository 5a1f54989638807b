import type { Recording } from '@tonos/contract';
import {
  chainNamesOf,
  type GainLine,
  newestNamed,
  type OrderFile,
  type ResolvedOrder,
  SHIPPED_CHAINS,
  stepIds,
} from '@tonos/core';
import { useEffect, useMemo } from 'react';
import { api } from '../../api/api.ts';
import { useEach } from '../../api/use-each.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import type { LiveProgramme } from '../../listening/engine/messages.ts';
import { listeningSlice, type Playable } from '../../listening/listening-slice.ts';
import { useSame } from '../../ui/use-same.ts';
import { type Fill, RATE, recordingIdOf, secondsOf } from './lay-out-order.ts';
import {
  type FoundIn,
  type Heard,
  knownSound,
  linesIn,
  liveProgramme,
  loudnessOf,
  type Sounding,
  type StepsOf,
  viewsOf,
} from './order-sound.ts';

const { listened: listenTo, playingChanged, seekAsked, sourceChanged } = listeningSlice.actions;

export interface OrderSound {
  /** How groups give way, by group. */
  lines: Readonly<Record<string, GainLine[]>>;
  /** Short-term loudness of the whole before chains. */
  loudness: readonly (number | null)[];
  /** Whether this programme is what is listened to. */
  own: boolean;
  playing: boolean;
  listenFrom(seconds: number): void;
  toggle(): void;
}

interface OrderSoundNeeds {
  orderId: string;
  order: OrderFile;
  resolved: ResolvedOrder | undefined;
  fill: Fill;
  recordings: ReadonlyMap<string, Recording>;
  heard: Heard;
  found: FoundIn;
  /** By how much parts are brought to their levels, where that was measured. */
  levels: Readonly<Record<string, number>>;
}

/** A programme as it can be heard while it is edited: what changes meanwhile is heard at once. */
export function useOrderSound(needs: OrderSoundNeeds): OrderSound {
  const { orderId, order, resolved, fill, recordings, heard, found, levels } = needs;
  const dispatch = useAppDispatch();
  const { listened, playing } = useAppSelector((state) => state.listening);
  const measured = useMemo(() => {
    const ids = new Set(order.parts.flatMap((part) => recordingIdOf(part, fill) ?? []));
    return [...ids].flatMap((id) => {
      const recording = recordings.get(id);
      return recording?.measurement ? [{ id, seconds: recording.measurement.durationSeconds }] : [];
    });
  }, [order, fill, recordings]);
  const views = useEach(
    api.endpoints.recordingView,
    measured.flatMap(({ id, seconds }) => viewsOf(id, seconds)),
  );
  const stepsOf = useChainSteps(order);
  const sounding = useMemo(() => {
    if (!resolved) return [];
    let next = 0;
    const sounds = new Map(
      measured.map(({ id, seconds }) => {
        const { length } = viewsOf(id, seconds);
        const own = views.slice(next, next + length).flatMap((view) => view ?? []);
        next += length;
        return [id, own.length === length ? knownSound(own) : undefined] as const;
      }),
    );
    return resolved.parts.flatMap((placed): Sounding[] => {
      const { part } = placed;
      const id = recordingIdOf(part, fill);
      const recording = id === undefined ? undefined : recordings.get(id);
      if (!recording?.measurement) return [];
      const lufs = recording.measurement.integratedLufs;
      const levelDb = levels[part.id] ?? (part.level && lufs !== null ? part.level.integratedLufs - lufs : 0);
      return [{ placed, recording, sound: sounds.get(recording.id), levelDb: part.level ? levelDb : 0 }];
    });
  }, [resolved, measured, views, fill, recordings, levels]);
  const lines = useMemo(() => linesIn(order, sounding), [order, sounding]);
  const loudness = useMemo(
    () => (resolved ? loudnessOf(order, resolved, sounding, lines) : []),
    [order, resolved, sounding, lines],
  );
  const source = useMemo((): Playable | null => {
    if (!resolved) return null;
    const all = [...recordings.values()];
    const programme = liveProgramme({ order, sounding, lines, heard, found, stepsOf, recordings: all });
    return playable(`order ${orderId}`, order.channels, resolved.frames, programme);
  }, [orderId, order, resolved, sounding, lines, heard, found, stepsOf, recordings]);
  const own = listened?.source.track.url === `order ${orderId}`;
  useEffect(() => {
    if (own && source) dispatch(sourceChanged(source));
  }, [own, source, dispatch]);
  const listenFrom = (fromSeconds: number) => {
    if (own) {
      dispatch(seekAsked(fromSeconds));
      dispatch(playingChanged(true));
    } else if (source)
      dispatch(listenTo({ listened: { name: order.name, source, result: null }, side: 'source', fromSeconds }));
  };
  return {
    lines,
    loudness,
    own,
    playing: own && playing,
    listenFrom,
    toggle: () => {
      if (own) dispatch(playingChanged(!playing));
      else listenFrom(0);
    },
  };
}

const playable = (url: string, channels: number, frames: number, programme: LiveProgramme): Playable => ({
  track: { url, sampleRateHz: RATE, channels, frames, boxes: [], programme },
  overview: null,
  loudnessLufs: null,
  seconds: secondsOf(frames),
});

/** The steps of the chains that an order names, found as a run finds them, and of those that it holds. */
function useChainSteps(order: OrderFile): StepsOf {
  const { data: chains } = api.useChainsQuery();
  const names = useSame([...new Set(chainNamesOf(order))]);
  const named = useMemo(
    () => names.map((name) => ({ name, id: newestNamed(chains ?? [], name)?.id })),
    [names, chains],
  );
  const ids = named.flatMap(({ id }) => id ?? []);
  const files = useEach(api.endpoints.chain, ids);
  return useMemo(() => {
    const fileOf = (called: string) => {
      const id = named.find(({ name }) => name === called)?.id;
      if (id !== undefined) return files.find((file) => file?.id === id);
      // while it is not known what there is, none is taken for another
      return chains && SHIPPED_CHAINS.find(({ name }) => name.toLowerCase() === called.toLowerCase());
    };
    return (chain) => {
      const steps = (typeof chain === 'string' ? fileOf(chain) : chain)?.steps;
      const stepId = steps && stepIds(steps);
      return steps?.map((step, i) => ({ ...step, id: stepId![i] }));
    };
  }, [files, named, chains]);
}
