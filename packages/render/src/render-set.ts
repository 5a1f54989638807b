import { type Agree, Agreement, jointMembers, type Placement } from '@tonos/core';
import { hearMember } from './hear-member.ts';
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
  const heard = await Promise.allSettled(
    jobs.map(({ sourcePath: path, name, byHand, signal }) => hearMember({ path, name, byHand }, signal)),
  );
  const there = jobs.flatMap((job, i) => {
    const result = heard[i];
    return result.status === 'fulfilled' ? [{ job, i, ...result.value }] : [];
  });
  const { span, cuts, marks } = jointMembers(
    there.map(({ job: { place, byHand }, frames, format }) => ({
      place,
      frames,
      format,
      cuts: byHand?.cuts ?? [],
      marks: byHand?.marks ?? [],
    })),
  );
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
