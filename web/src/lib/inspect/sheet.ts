import { TERMS } from '../terms';
import type { Layout } from './map';
import { banks, mains } from './map';

/** One row of the bench sheet as it is typed in; a part with sides, such as the two shells of a bearing, has a
 * condition for each of them, any other part has one under ''. */
export interface SheetRow {
  position: number | null;
  conditions: Record<string, string>;
  readings: Record<string, string>;
  note: string;
}

/** An empty sheet of a part: a row for each of it. */
export function emptyRows(many: string, layout: Layout): SheetRow[] {
  const places: (number | null)[] =
    many === 'one' ? [null] : many === 'main' ? mains(layout) : banks(layout).flat();
  return places.map((position) => ({ position, conditions: {}, readings: {}, note: '' }));
}

/** Whether anything was written in a row. */
export const filled = (r: SheetRow): boolean =>
  Object.values(r.conditions).some(Boolean) || r.note.trim() !== '' || measured(r);

const measured = (r: SheetRow): boolean => Object.values(r.readings).some((x) => x.trim() !== '');

/** Give every row that has none the same condition, on one side of the part. */
export function markTheRest(rows: SheetRow[], side: string, condition: string): void {
  for (const row of rows) if (!row.conditions[side]) row.conditions[side] = condition;
}

// What was only measured is not said to be sound.
const UNSEEN: (typeof TERMS.conditions)[number]['code'] = 'unseen';

/** The findings that a row is, as their details: one for each side that was judged by eye, with the figures and the
 * note. Figures of a part with sides are of neither side alone and make a finding of their own. The limits are those of
 * the whole sheet; `order`: the number of the first finding. */
export function findingsOf(
  r: SheetRow,
  unit: string,
  limits: Record<string, string>,
  order: number,
): Record<string, string>[] {
  const judged = Object.entries(r.conditions).filter(([, condition]) => condition);
  const figures = { ...r.readings, ...limits, length_unit: unit };
  const apart = judged.some(([side]) => side) && measured(r);
  const found = judged.map(([side, condition]) => ({ side, condition, ...(apart ? {} : figures) }));
  if (apart || !found.length) found.push({ side: '', condition: UNSEEN, ...figures });
  const position = r.position === null ? '' : String(r.position);
  return found.map((one, n) => filledIn({ ...one, position, order: String(order + n) }));
}

const filledIn = (told: Record<string, string>): Record<string, string> =>
  Object.fromEntries(Object.entries(told).filter(([, v]) => v.trim() !== ''));
