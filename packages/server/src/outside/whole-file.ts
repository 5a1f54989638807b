import { open } from 'node:fs/promises';

const UNKNOWN = 0xffffffff;

/**
 * Whether a WAV file that is being written has all that its head says; undefined where its head says nothing, or it is no WAV. RIFF: the size
 * at byte 4 (Multimedia Programming Interface and Data Specifications 1.0); RF64: in `ds64` (EBU Tech 3306).
 */
export async function isWholeWav(path: string, sizeBytes: number): Promise<boolean | undefined> {
  const file = await open(path);
  try {
    const { buffer: head, bytesRead } = await file.read(Buffer.alloc(28), 0, 28, 0);
    if (bytesRead < 28 || head.toString('latin1', 8, 12) !== 'WAVE') return undefined;
    const form = head.toString('latin1', 0, 4);
    const declared = form === 'RIFF' ? head.readUInt32LE(4) : Number(head.readBigUInt64LE(20));
    if (!/^(RIFF|RF64|BW64)$/.test(form) || declared === 0 || declared === UNKNOWN) return undefined;
    return declared + 8 <= sizeBytes;
  } finally {
    await file.close();
  }
}
