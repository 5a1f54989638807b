import { type FileHandle, open } from 'node:fs/promises';

/** A new file that is written front to back; headers can be mended at the end. */
export class ByteWriter {
  private position = 0;

  private constructor(private readonly handle: FileHandle) {}

  /** The file must not exist. */
  static async create(path: string): Promise<ByteWriter> {
    return new ByteWriter(await open(path, 'wx'));
  }

  get size(): number {
    return this.position;
  }

  async write(bytes: Uint8Array): Promise<void> {
    await this.put(bytes, this.position);
    this.position += bytes.length;
  }

  async patch(offset: number, bytes: Uint8Array): Promise<void> {
    await this.put(bytes, offset);
  }

  /** Everything is on the disk when this resolves. */
  async close(): Promise<void> {
    await this.handle.sync();
    await this.handle.close();
  }

  async abandon(): Promise<void> {
    await this.handle.close();
  }

  private async put(bytes: Uint8Array, offset: number): Promise<void> {
    let written = 0;
    while (written < bytes.length) {
      const { bytesWritten } = await this.handle.write(bytes, written, bytes.length - written, offset + written);
      written += bytesWritten;
    }
  }
}
