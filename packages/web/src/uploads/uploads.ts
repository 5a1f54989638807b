import { nanoid } from '@reduxjs/toolkit';
import type { Recording } from '@tonos/contract';
import { compareNames } from '../ui/compare-names.ts';
import { LARGE_BYTES, type LargeUpload, type sendLargeFile } from './send-large-file.ts';
import type { UploadProgress, uploadFiles } from './upload-files.ts';

/** Files on their way: many small ones together, or one large one that can pause. */
export interface Transfer extends UploadProgress {
  id: string;
  /** The file, or how many. */
  what: string;
  titleName: string;
  startedMs: number;
  /** What had been sent when it began, or went on. */
  startedBytes: number;
  state: 'waiting' | 'sending' | 'paused' | 'broken';
  reason?: string;
  /** Whether it goes on where it was, after a break and in another tab too. */
  resumable: boolean;
}

export interface Destination {
  titleId: string;
  titleName: string;
}

interface UploadsNeeds {
  uploadFiles: typeof uploadFiles;
  sendLargeFile: typeof sendLargeFile;
  /** Called for what has come in, by whichever way. */
  arrived(titleId: string, added: readonly Recording[], what: string): void;
}

/** One transfer and what moves it. */
interface Task {
  transfer: Transfer;
  to: Destination;
  files: File[];
  upload?: LargeUpload;
  abort?: AbortController;
  settle?: () => void;
}

/**
 * What this page sends to the server, whichever page of it is shown: one transfer after the other, in the order of the numbers in the
 * files' names. Whoever looks subscribes.
 */
export class Uploads {
  private tasks: Task[] = [];
  private shown: readonly Transfer[] = [];
  private readonly listeners = new Set<() => void>();
  private running = false;

  constructor(private readonly needs: UploadsNeeds) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The same list for as long as nothing has changed. */
  readonly transfers = (): readonly Transfer[] => this.shown;

  /** Whether leaving the page ends something. */
  get isUnderWay(): boolean {
    return this.shown.some(({ state, resumable }) => state === 'sending' || state === 'waiting' || !resumable);
  }

  send(to: Destination, files: readonly File[]): void {
    const sorted = [...files].sort((a, b) => compareNames(a.name, b.name));
    const small = sorted.filter(({ size }) => size < LARGE_BYTES);
    const large = sorted.filter(({ size }) => size >= LARGE_BYTES);
    if (small.length) this.add(to, small, false);
    for (const file of large) this.add(to, [file], true);
    void this.work();
  }

  pause(id: string): void {
    const task = this.find(id);
    task?.upload?.pause();
    this.change(task, { state: 'paused' });
  }

  /** Goes on after a pause or a break; what can't go on where it was begins again. */
  goOn(id: string): void {
    const task = this.find(id);
    if (!task) return;
    if (task.upload) {
      this.change(task, {
        state: 'sending',
        reason: undefined,
        startedMs: performance.now(),
        startedBytes: task.transfer.sentBytes,
      });
      task.upload.goOn();
    } else {
      this.change(task, { state: 'waiting', reason: undefined, sentBytes: 0, startedBytes: 0 });
      void this.work();
    }
  }

  cancel(id: string): void {
    const task = this.find(id);
    task?.abort?.abort();
    task?.upload?.cancel();
    this.end(task);
  }

  private add(to: Destination, files: File[], resumable: boolean): void {
    const transfer: Transfer = {
      id: nanoid(8),
      what: files.length === 1 ? files[0].name : `${files.length} files`,
      titleName: to.titleName,
      startedMs: 0,
      startedBytes: 0,
      sentBytes: 0,
      totalBytes: files.reduce((sum, { size }) => sum + size, 0),
      state: 'waiting',
      resumable,
    };
    this.tasks = [...this.tasks, { transfer, to, files }];
    this.tell();
  }

  /** One after the other. One that is paused or broken keeps its place and lets the others by. */
  private async work(): Promise<void> {
    if (this.running) return;
    this.running = true;
    for (let next = this.next(); next; next = this.next()) {
      this.change(next, { state: 'sending', startedMs: performance.now() });
      await (next.transfer.resumable ? this.sendLarge(next) : this.sendSmall(next));
    }
    this.running = false;
  }

  private next(): Task | undefined {
    return this.tasks.find(({ transfer }) => transfer.state === 'waiting');
  }

  private async sendSmall(task: Task): Promise<void> {
    task.abort = new AbortController();
    try {
      const { titleId } = task.to;
      const progress = (sent: UploadProgress) => this.change(task, sent);
      const added = await this.needs.uploadFiles(titleId, task.files, { signal: task.abort.signal, progress });
      this.needs.arrived(titleId, added, task.transfer.what);
      this.end(task);
    } catch (error) {
      if ((error as Error).name === 'AbortError') this.end(task);
      else this.change(task, { state: 'broken', reason: (error as Error).message });
    }
  }

  /** Settled when it has come in, or was paused, broken off or given up: others go on meanwhile. */
  private sendLarge(task: Task): Promise<void> {
    return new Promise((resolve) => {
      task.settle = resolve;
      task.upload = this.needs.sendLargeFile(task.to.titleId, task.files[0], {
        progress: (sent) => {
          // what was sent before it was begun here tells nothing of the speed
          const isFirst = task.transfer.sentBytes === task.transfer.startedBytes;
          this.change(task, isFirst ? { ...sent, startedBytes: sent.sentBytes } : sent);
        },
        done: () => {
          this.needs.arrived(task.to.titleId, [], task.transfer.what);
          this.end(task);
        },
        broke: (reason) => this.change(task, { state: 'broken', reason }),
      });
    });
  }

  private find(id: string): Task | undefined {
    return this.tasks.find(({ transfer }) => transfer.id === id);
  }

  private change(task: Task | undefined, change: Partial<Transfer>): void {
    if (!task) return;
    task.transfer = { ...task.transfer, ...change };
    if (change.state === 'paused' || change.state === 'broken') task.settle?.();
    this.tell();
  }

  private end(task: Task | undefined): void {
    this.tasks = this.tasks.filter((one) => one !== task);
    task?.settle?.();
    this.tell();
  }

  private tell(): void {
    this.shown = this.tasks.map(({ transfer }) => transfer);
    for (const listener of this.listeners) listener();
  }
}
