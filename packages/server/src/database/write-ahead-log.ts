import { type FileHandle, open } from 'node:fs/promises';

/** So long after something was written it is taken from the log into the database's file; at once where the log is longer than `LONG_LOG_BYTES`. */
const CHECKPOINT_MS = 30_000;
/** Behind a checkpoint SQLite cuts a log to this (`journal_size_limit`): what is longer holds what was not taken over. */
export const LONG_LOG_BYTES = 8 * 1024 * 1024;
/**
 * Writes the file's first page as it is: a number that the program has no use for. What is written first behind a checkpoint begins the log
 * anew, and SQLite itself waits until the disk has the head of it.
 */
export const BEGIN_LOG = 'PRAGMA user_version = 0';

/**
 * Has the database's log on the disk before anybody is told that their change is kept. SQLite would wait for the disk itself, and everybody
 * with it: some milliseconds on a good day, half a second where others keep the disk busy. Here those alone wait who changed something; changes that come
 * while the disk is at work share the next turn. What a checkpoint takes from the log into the file waits likewise, on another thread.
 */
export class WriteAheadLog {
  private file: FileHandle | undefined;
  private last: Promise<unknown> = Promise.resolve();
  private next: Promise<void> | undefined;
  private timer: NodeJS.Timeout | undefined;
  private takingOver: Promise<void> | undefined;

  /**
   * @param path of the log; it is there once something has been written
   * @param checkpoint takes what lies in the log into the database's file
   */
  constructor(
    private readonly path: string,
    private readonly checkpoint: () => Promise<unknown>,
  ) {}

  /** Until all that was written before this call is on the disk. */
  synced(): Promise<void> {
    this.timer ??= setTimeout(() => this.takeOver(), CHECKPOINT_MS).unref();
    if (!this.next) {
      this.next = this.last.then(async () => {
        this.next = undefined;
        this.file ??= await open(this.path, 'r+');
        await this.file.datasync();
        if (!this.takingOver && (await this.file.stat()).size > LONG_LOG_BYTES) this.takeOver();
      });
      this.last = this.next.catch(() => {});
    }
    return this.next;
  }

  private takeOver(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.takingOver = this.checkpoint()
      .catch(() => {}) // the next one takes it along
      .then(() => {
        this.takingOver = undefined;
      });
  }

  async close(): Promise<void> {
    clearTimeout(this.timer);
    await this.last;
    await this.takingOver;
    await this.file?.close();
  }
}
