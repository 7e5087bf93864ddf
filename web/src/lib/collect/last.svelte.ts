import type { Schemas } from '../api/client';

/** The last thing this person recorded on this page, so that it can be taken back. */
export const last = $state<{ id: string | null; words: string; queries: Schemas['QueryOut'][] }>({
  id: null,
  words: '',
  queries: [],
});

/** Remember what was recorded, and what does not fit about it. */
export function remember(words: string, recorded: Schemas['Recorded']): void {
  last.id = recorded.id;
  last.words = words;
  last.queries = recorded.queries;
}
