import type { Schemas } from '../api/client';

export type ReadAs = Schemas['ReadAs'];
type Layout = Schemas['LayoutIn'];

/** The layout as it is sent back: what a person may change, without the cells that were shown. */
export function given(layout: Schemas['FileLayout']): Layout {
  const { way, header, body, laboratory, decimal, days, water } = layout;
  const columns = layout.columns.map(({ heading, target, unit }) => ({ heading, target, unit }));
  return { way, header, body, laboratory, decimal, days, water, columns };
}

/** A layout with one column standing for something else; what stood for it before stands for nothing. */
export function standsFor(layout: Layout, at: number, target: string): Layout {
  const columns = layout.columns.map((c, n) =>
    n === at ? { ...c, target } : c.target === target && target ? { ...c, target: '' } : c,
  );
  return { ...layout, columns };
}

/** What still has to be said before a file can be brought in, in one line; "" where nothing is open. */
export function open(found: ReadAs): string {
  const asked = found.questions.map((q) => q.words);
  const lacking = found.lacking.length ? [`Not chosen yet: ${found.lacking.join(', ')}.`] : [];
  return [...asked, ...lacking].join(' ');
}

/** Engines of the file that are not on record. */
export const newOnes = (found: ReadAs): ReadAs['engines'] => found.engines.filter((e) => !e.known);
