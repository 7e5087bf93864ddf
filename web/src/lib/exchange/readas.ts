import type { Schemas } from '../api/client';

export type ReadAs = Schemas['ReadAs'];
type Layout = Schemas['LayoutIn'];

/** The layout as it is sent back: what a person may change, without the cells that were shown. */
export function given(layout: Schemas['FileLayout']): Layout {
  const columns = layout.columns.map(({ heading, target, unit, turn }) => ({ heading, target, unit, turn }));
  const lines = layout.lines.map(({ label, target }) => ({ label, target }));
  const { way, header, body, width, laboratory, engine, decimal, days, water, blank, parts, others } = layout;
  return {
    way,
    header,
    body,
    width,
    laboratory,
    engine,
    decimal,
    days,
    water,
    blank,
    parts,
    others,
    columns,
    lines,
  };
}

type Place = { column: number } | { line: number };

/** A layout with one column, or one line outside the table, standing for something else; what stood for it
 * before stands for nothing. */
export function standsFor(layout: Layout, at: Place, target: string): Layout {
  const turn = 'column' in at ? layout.columns[at.column]?.turn : 0;
  const free = (t: string | undefined) => (t === target && target ? '' : (t ?? ''));
  const columns = layout.columns.map((c, n) => {
    if ('column' in at && n === at.column) return { ...c, target };
    return c.turn === turn ? { ...c, target: free(c.target) } : c;
  });
  const lines = (layout.lines ?? []).map((x, n) =>
    'line' in at && n === at.line ? { ...x, target } : { ...x, target: free(x.target) },
  );
  return { ...layout, columns, lines };
}

/** What still has to be said before a file can be brought in, in one line; "" where nothing is open. */
export function open(found: ReadAs): string {
  const asked = found.questions.map((q) => q.words);
  const lacking = found.lacking.length ? [`Not chosen yet: ${found.lacking.join(', ')}.`] : [];
  return [...asked, ...lacking].join(' ');
}

/** Engines of the file that are not on record. */
export const newOnes = (found: ReadAs): ReadAs['engines'] => found.engines.filter((e) => !e.known);

/** Whether something in the file says whose its samples are. */
export const tellsEngine = ({ layout }: ReadAs): boolean =>
  [...layout.columns, ...layout.lines].some((x) => x.target === 'engine');

/** Things with how often, as "H 3, * 1". */
export const counted = (things: ReadAs['marks']): string =>
  things.map((x) => `${x.what} ${x.times}`).join(', ');
