import type { Readable } from 'node:stream';
import type { ReportFile, Run } from '@tonos/contract';
import { bagOf, chaptersJson, cueSheet, isDelivered, reportTexts } from '@tonos/delivery';
import type { DeliveryChapter } from '@tonos/formats';

/** An item's chapters, where they lie in the delivered file. */
export type ChaptersOf = (itemId: string) => {
  chapters: readonly DeliveryChapter[];
  title: string;
  performer?: string;
};

/**
 * A run's deliverable outputs as a ZIP that holds a BagIt bag, with their chapters and the report in three forms.
 * @param bagName the bag's own folder in the ZIP
 */
export async function deliveryPackage(
  bagName: string,
  run: Run,
  report: ReportFile,
  pathOf: (sha256: string) => string,
  chaptersOf: ChaptersOf = () => ({ chapters: [], title: '' }),
): Promise<Readable> {
  const delivered = run.items.filter(isDelivered);
  const files = delivered.map(({ output }) => ({ ...output!, path: pathOf(output!.sha256) }));
  const texts = await reportTexts(report);
  for (const { id, output, after } of delivered) {
    const { chapters, ...names } = chaptersOf(id);
    if (!chapters.length || !after) continue;
    const base = output!.name.replace(/\.[^.]*$/, '');
    const { durationSeconds } = after;
    texts.push(
      { name: `${base}.chapters.json`, content: Buffer.from(chaptersJson(chapters, durationSeconds)) },
      {
        name: `${base}.cue`,
        content: Buffer.from(cueSheet({ fileName: output!.name, ...names }, chapters, durationSeconds)),
      },
    );
  }
  const { version, title, createdAt } = report;
  return bagOf(bagName, files, texts, { version, description: title, createdAt });
}
