import { ApiError, sendPhotoAs } from '../api/client';

export interface Shot {
  key: string;
  file: File;
  url: string;
  state: 'waiting' | 'sending' | 'kept' | 'failed';
  why: string;
}

/** Photographs on their way: each has its key from the start, so that sending it again keeps it once. */
export class Shots {
  list = $state<Shot[]>([]);

  add(files: readonly File[]): void {
    for (const file of files)
      this.list.push({
        key: crypto.randomUUID(),
        file,
        url: URL.createObjectURL(file),
        state: 'waiting',
        why: '',
      });
  }

  drop(key: string): void {
    const gone = this.list.find((s) => s.key === key);
    if (gone) URL.revokeObjectURL(gone.url);
    this.list = this.list.filter((s) => s.key !== key);
  }

  /** Send what is not kept yet; true when everything is. A broken connection leaves the rest to be sent again. */
  async send(log: string): Promise<boolean> {
    for (const shot of this.list) {
      if (shot.state === 'kept') continue;
      shot.state = 'sending';
      shot.why = '';
      try {
        await sendPhotoAs(log, shot.key, shot.file, '');
        shot.state = 'kept';
      } catch (error) {
        shot.state = 'failed';
        shot.why = error instanceof ApiError ? error.message : 'Not sent.';
      }
    }
    return this.list.every((s) => s.state === 'kept');
  }
}
