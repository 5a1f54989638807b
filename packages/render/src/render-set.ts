import {
  type Agree,
  Agreement,
  hearRooms,
  jointCuts,
  type Placement,
  placedSource,
  spanOfSet,
  spanToResult,
} from '@tonos/core';
import { openAudio } from '@tonos/formats';
import { type RenderJob, type RenderResult, renderFile } from './render-file.ts';

/** A recording of a set, where it lies on the time that its members share, and what is to be made of it. */
export interface MemberJob extends Omit<RenderJob, 'inSet'> {
  place: Placement;
}

/**
 * Renders recordings of one session together: what changes the time of one changes all, and the results begin together and are of one
 * length. They go through the chain at the same time, each waiting for the others where all have a say.
 * @returns for each what came of it, or why nothing did: the others go on
 */
export async function renderSet(jobs: readonly MemberJob[]): Promise<PromiseSettledResult<RenderResult>[]> {
  const heard = await Promise.allSettled(jobs.map(hear));
  const there = jobs.flatMap((job, i) => {
    const result = heard[i];
    return result.status === 'fulfilled' ? [{ job, i, ...result.value }] : [];
  });
  const span = spanOfSet(there.map(({ job, seconds }) => ({ place: job.place, seconds })));
  const maps = there.map(({ job, frames, format }) => {
    const unheard = { format, blocks: async function* () {} };
    return placedSource(unheard, frames, job.place, span, []).map;
  });
  const cuts = jointCuts(there.map(({ job }, m) => ({ cuts: job.byHand?.cuts ?? [], map: maps[m] })));
  const marks = there.flatMap(({ job }, m) => (job.byHand?.marks ?? []).map((mark) => spanToResult(maps[m], mark)));
  const agreement = new Agreement(there.length);
  const rendered = await Promise.allSettled(
    there.map(async ({ job, frames, room }, m) => {
      const agree: Agree = (key, value, combine) => agreement.agree(m, key, value, combine);
      const { place, ...rest } = job;
      try {
        return await renderFile({
          ...rest,
          given: undefined,
          inSet: { place, span, cuts: cuts[m], marks, frames, room, agree },
        });
      } finally {
        agreement.leave(m);
      }
    }),
  );
  return heard.map((result, i) =>
    result.status === 'rejected' ? result : rendered[there.findIndex((one) => one.i === i)],
  );
}

async function hear({ sourcePath, name, byHand, signal }: MemberJob) {
  const audio = await openAudio(sourcePath, name);
  try {
    const { format } = audio;
    const { frames, rooms } = await hearRooms(audio, byHand?.roomTone, [0], signal);
    return { format, frames, room: rooms[0], seconds: frames / format.sampleRateHz };
  } finally {
    await audio.close();
  }
}
