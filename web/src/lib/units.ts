import { TERMS } from './terms';

export type Unit = (typeof TERMS.units)[number];
export type Dimension = Unit['dimension'];

export interface Read {
  /** In the field's own unit; null for an empty field or one that cannot be read. */
  value: number | null;
  /** As it was typed, where that was in another unit. */
  typed: string;
  wrong: string;
}

export const unitOf = (code: string): Unit | undefined => TERMS.units.find((u) => u.code === code);
const bare = (said: string): string => said.toLowerCase().replaceAll(/[\s.]/g, '');

/** A unit as people write it: `qt`, `Fl. oz`, `°F`. */
export function unitNamed(said: string, dimension: Dimension): Unit | undefined {
  const name = bare(said);
  return TERMS.units.find(
    (u) =>
      u.dimension === dimension &&
      (bare(u.code) === name || (u.spellings as readonly string[]).includes(name)),
  );
}

/** From the unit `a` into the unit `b` of the same dimension. */
export function into(x: number, a: Unit, b: Unit): number {
  return ((x - a.offset) / a.factor) * b.factor + b.offset;
}

const round = (x: number): number => Number(x.toPrecision(9));
const listed = (dimension: Dimension): string =>
  TERMS.units
    .filter((u) => u.dimension === dimension)
    .map((u) => u.code)
    .join(', ');

/** A bare gallon is the one this person reads in; for everybody else it could be two. */
function ownGallon(said: string, mine: string): Unit | undefined {
  return /^gal(lon)?s?$/.test(bare(said)) && mine.endsWith('gal') ? unitOf(mine) : undefined;
}

/**
 * A figure as it was typed into a field of unit `own`, for a person who thinks in `mine`: `12 oz`, `0,4`, `3 qt`.
 * A bare figure is in `mine`. What could be two figures or two units is asked, never guessed.
 */
export function readAmount(said: string, own: string, mine: string = own): Read {
  const text = said.trim();
  const none = (wrong: string): Read => ({ value: null, typed: '', wrong });
  if (!text) return none('');
  const found = /^(-?\d[\d.,\u202f ]*?)\s*([^\d.,\s-].*)?$/.exec(text);
  if (!found?.[1]) return none(`“${text}” is no figure`);
  const digits = found[1].replaceAll(/[\u202f ]/g, '');
  if (/^\d{1,3},\d{3}$/.test(digits))
    return none(
      `${digits} could be two figures: write ${digits.replace(',', '')} or ${digits.replace(',', '.')}`,
    );
  const x = Number(digits.replace(',', '.'));
  if (!Number.isFinite(x)) return none(`“${digits}” is no figure`);
  const to = unitOf(own);
  if (!to) {
    const other = found[2] && bare(found[2]) !== bare(own);
    if (other) return none(own ? `this field is in ${own}` : `write the figure alone, without “${found[2]}”`);
    return { value: x, typed: '', wrong: '' };
  }
  const from = found[2] ? (unitNamed(found[2], to.dimension) ?? ownGallon(found[2], mine)) : unitOf(mine);
  if (!from) return none(`“${found[2] ?? mine}” is none of ${listed(to.dimension)}`);
  if (from.code === to.code) return { value: x, typed: '', wrong: '' };
  return { value: round(into(x, from, to)), typed: `${found[1].trim()} ${from.code}`, wrong: '' };
}
