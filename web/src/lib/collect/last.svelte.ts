/** The last thing this person recorded on this page, so that it can be taken back. */
export const last = $state<{ id: string | null; words: string }>({ id: null, words: '' });
