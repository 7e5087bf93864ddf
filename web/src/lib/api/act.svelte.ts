import type { QueryClient } from '@tanstack/svelte-query';
import { ApiError, UNKNOWN } from './client';
import { refresh } from './queries';

/** A write under way: whether it runs, what went wrong by which code, which fields it was about, what it came to. */
export class Act {
  #under = $state(0);
  wrong = $state('');
  said = $state('');
  code = $state('');
  fields = $state<Record<string, string>>({});

  get busy(): boolean {
    return this.#under > 0;
  }

  constructor(private readonly client: QueryClient) {}

  /** Do it; true when it worked. What the person typed stays where it is when it did not. */
  async run(does: () => Promise<unknown>, said = ''): Promise<boolean> {
    this.#under++;
    this.wrong = '';
    this.said = '';
    this.code = '';
    this.fields = {};
    try {
      await does();
      this.said = said;
      return true;
    } catch (error) {
      const known = error instanceof ApiError ? error : null;
      this.wrong = known?.message ?? UNKNOWN;
      this.code = known?.code ?? '';
      this.fields = known?.fields ?? {};
      return false;
    } finally {
      // The form is told at once, so that it does not wipe what is typed next; nothing can be sent again before
      // the page shows what this came to.
      void refresh(this.client).finally(() => this.#under--);
    }
  }
}
