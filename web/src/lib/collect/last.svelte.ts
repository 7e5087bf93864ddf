import type { Schemas } from '../api/client';

/** The last thing this person recorded on this page, so that it can be taken back. */
export const last = $state<{
  id: string | null;
  words: string;
  queries: Schemas['QueryOut'][];
  state: Schemas['StateOut'] | null;
}>({
  id: null,
  words: '',
  queries: [],
  state: null,
});

/** Remember what was recorded, what does not fit about it, and where the engine stands now. */
export function remember(words: string, recorded: Schemas['Recorded']): void {
  last.id = recorded.id;
  last.words = words;
  last.queries = recorded.queries;
  last.state = recorded.state ?? null;
}
