import { pathOf, type Route } from '@tonos/contract';
import { useEffect, useRef, useState } from 'react';
import { api, type Kind } from '../api/api.ts';
import { ifSeen } from '../api/request.ts';
import { useAppDispatch } from '../app/store.ts';
import { say, sayError } from '../ui/notify.ts';
import { personName } from '../ui/person.ts';
import { useLatest } from '../ui/use-latest.ts';
import type { Edited } from './history.ts';

const SAVE_AFTER_MS = 500;
const CHANGED_MEANWHILE = 412;
/** What others wrote is asked again after so long, where it did not come. */
const ASK_AGAIN_MS = 2000;

export const sameContent = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What another person's work and one's own can be brought together by. */
export interface Conflict {
  /** Who wrote; empty where they did not say. */
  author: string;
  takeTheirs(): void;
  keepMine(): void;
}

/** As the server has it: the latest revision, and one's own draft. */
export interface Kept<Content> {
  id: string;
  version: number;
  revision: number;
  content: Content;
  /** Who kept the latest revision; empty where they did not say. */
  by: string;
  /** One's own. */
  draft: { content: Content; basedOn: number; author: string } | null;
}

interface Standing<Content> {
  content: Content;
  basedOn: number;
  version: number;
}

type Outcome<Data> = Promise<{ data?: Data; error?: unknown }>;

interface DraftNeeds<Content> {
  /** How messages call it. */
  what: string;
  /** What the page asks again where somebody else wrote. */
  tag: Kind;
  kept: Kept<Content> | undefined;
  edited: Edited<Content> | undefined;
  /** The work as it stands by then. */
  present(): Edited<Content>;
  on: {
    opened(standing: Standing<Content>): void;
    stored(content: Content, version: number): void;
    rebased(standing: Standing<Content>): void;
    yielded(standing: Standing<Content>): void;
    insisted(basedOn: number, version: number): void;
  };
  calls: {
    draft: Route;
    /** The body of a draft, as its call takes it. */
    body(draft: { content: Content; basedOn: number; author: string }): object;
    save(id: string, version: number, draft: object): Outcome<{ version: number }>;
    /** With the version that it leaves, where the answer tells it. */
    drop(id: string, version: number): Outcome<{ version: number }>;
    keep(
      id: string,
      revision: { content: Content; note: string; author: string; basedOn: number; version: number },
    ): Outcome<{ revision: number; version: number }>;
  };
}

export interface DraftKeeping {
  conflict?: Conflict;
  /** Keeps what is there as the next revision. @returns its number; undefined where it could not be, which has been said */
  keep(note: string, author: string): Promise<number | undefined>;
}

/**
 * Work on something with revisions: opened from its draft or its latest revision, and saved as the draft a moment after each change in this
 * page. A page in which nothing is changed follows what others do, and writes nothing.
 */
export function useDraft<Content>({ what, tag, kept, edited, present, on, calls }: DraftNeeds<Content>): DraftKeeping {
  const dispatch = useAppDispatch();
  /** The version whose successor somebody else wrote: nothing is written until it is settled what counts. */
  const [refusedAt, setRefusedAt] = useState<number>();
  const writes = useRef<Promise<unknown>>(Promise.resolve());
  /** Saves what has not been saved yet, in a way that outlives the page. */
  const leaving = useRef<() => void>(null);

  const open = useLatest(() => {
    if (!kept) return;
    const idle = edited?.present === edited?.saved;
    if (edited && !(idle && kept.version > edited.version)) return;
    const next = standing(kept);
    if (edited && !sameContent(edited.present, next.content)) {
      const who = next.basedOn > edited.basedOn ? kept.by : kept.draft?.author;
      say(`${who || 'Somebody else'} changed this ${what}; it is shown as it is now.`);
    }
    on.opened(next);
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it hangs on is what it is told of
  useEffect(() => open(), [kept, edited, open]);

  /** One after the other, each on the work as it is when its turn comes: each names the version that the one before it made. */
  const inTurn = useLatest(<T>(write: (of: Kept<Content>, work: Edited<Content>) => Promise<T>): Promise<T> => {
    const turn = writes.current.then(() => write(kept!, present()));
    writes.current = turn.catch(() => {});
    return turn;
  });
  const sayRefused = (title: string, error: unknown, { version }: Edited<Content>) => {
    if ((error as { status?: unknown }).status !== CHANGED_MEANWHILE) return sayError(title, error);
    setRefusedAt(version);
    // the event that told of it may have been missed
    dispatch(api.util.invalidateTags([tag]));
  };
  const save = useLatest(async (of: Kept<Content>, work: Edited<Content>) => {
    const { present: content, saved, basedOn, version } = work;
    if (content === saved) return;
    // back at the revision, by undo or by keeping: there is nothing in progress
    const atRevision = basedOn === of.revision && sameContent(content, of.content);
    const { data, error } = atRevision
      ? await calls.drop(of.id, version)
      : await calls.save(of.id, version, calls.body({ content, basedOn, author: personName() }));
    if (data) on.stored(content, data.version);
    else sayRefused('The draft was not saved', error, work);
  });
  const keep = useLatest((note: string, author: string) =>
    inTurn(async ({ id }, work) => {
      const { present: content, basedOn, version } = work;
      const { data, error } = await calls.keep(id, { content, note, author, basedOn, version });
      if (data) on.rebased({ content, basedOn: data.revision, version: data.version });
      else sayRefused('No revision was kept', error, work);
      return data?.revision;
    }),
  );
  const saveAtOnce = useLatest((id: string, work: Edited<Content>) => {
    const { present: content, basedOn, version } = work;
    // the browser sends it even when the page is gone
    void fetch(pathOf(calls.draft, { id }), {
      method: calls.draft.method.toUpperCase(),
      keepalive: true,
      headers: { 'content-type': 'application/json', ...ifSeen(version) },
      body: JSON.stringify(calls.body({ content, basedOn, author: personName() })),
    }).catch(() => {}); // nobody is there to be told
  });

  const refused = edited !== undefined && refusedAt === edited.version;
  const id = kept?.id;
  useEffect(() => {
    leaving.current = null;
    if (!id || !edited || refused || edited.present === edited.saved) return;
    leaving.current = () => saveAtOnce(id, edited);
    const timer = setTimeout(() => {
      leaving.current = null;
      void inTurn(save);
    }, SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [id, edited, refused, inTurn, save, saveAtOnce]);

  useEffect(() => {
    const leave = () => {
      leaving.current?.();
      leaving.current = null;
    };
    addEventListener('pagehide', leave);
    return () => {
      removeEventListener('pagehide', leave);
      leave();
    };
  }, []);

  // until what the others wrote has come in there is nothing to choose from
  const waits = refused && kept !== undefined && kept.version <= edited.version;
  useEffect(() => {
    if (!waits) return;
    const timer = setInterval(() => dispatch(api.util.invalidateTags([tag])), ASK_AGAIN_MS);
    return () => clearInterval(timer);
  }, [waits, tag, dispatch]);

  if (!refused || !kept || waits) return { keep };
  return {
    keep,
    conflict: {
      author: kept.draft?.author ?? '',
      takeTheirs: () => on.yielded(standing(kept)),
      keepMine: () => on.insisted(kept.revision, kept.version),
    },
  };
}

const standing = <Content>({ draft, content, revision, version }: Kept<Content>): Standing<Content> => ({
  content: draft?.content ?? content,
  basedOn: draft?.basedOn ?? revision,
  version,
});
