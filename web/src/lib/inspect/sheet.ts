import { TERMS } from '../terms';
import type { Layout } from './map';
import { banks, mains } from './map';

/** One row of the bench sheet as it is typed in. */
export interface SheetRow {
  position: number | null;
  condition: string;
  readings: Record<string, string>;
  note: string;
}

/** An empty sheet of a part: a row for each of it. */
export function emptyRows(many: string, layout: Layout): SheetRow[] {
  const places: (number | null)[] =
    many === 'one' ? [null] : many === 'main' ? mains(layout) : banks(layout).flat();
  return places.map((position) => ({ position, condition: '', readings: {}, note: '' }));
}

/** Whether anything was written in a row. */
export const filled = (r: SheetRow): boolean =>
  r.condition !== '' || r.note.trim() !== '' || Object.values(r.readings).some((x) => x.trim() !== '');

// What was only measured is not said to be sound.
const UNSEEN: (typeof TERMS.conditions)[number]['code'] = 'unseen';

/** The details of a finding that a row is; the limits are those of the whole sheet. */
export function detailsOf(
  r: SheetRow,
  unit: string,
  limits: Record<string, string>,
  order: number,
): Record<string, string> {
  const told = {
    ...r.readings,
    ...limits,
    length_unit: unit,
    condition: r.condition || UNSEEN,
    position: r.position === null ? '' : String(r.position),
    order: String(order),
  };
  return Object.fromEntries(Object.entries(told).filter(([, v]) => v.trim() !== ''));
}
