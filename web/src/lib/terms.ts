import { TERMS } from './api/terms';

export { TERMS };

export type List = keyof typeof TERMS.lists;

/** The choices of a list, in the order they are offered. */
export const choices = <L extends List>(list: L): (typeof TERMS.lists)[L] => TERMS.lists[list];

/** A code in the words of the trade; a code of another version as it stands. */
export function wordsOf(list: readonly { code: string; words: string }[], code: string): string {
  return list.find((c) => c.code === code)?.words ?? code.replaceAll('_', ' ');
}

/** The first letter large, for the name of a button. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
