import { TERMS } from './terms';
import type { Dimension } from './units';
import { into, unitOf } from './units';
import { figure } from './words';

/** What the person who is here chose: units, and what was dismissed for good. */
class Mine {
  choices = $state.raw<Record<string, string>>({});
  /** What the site counts its money in, '' where nobody said. */
  currency = $state('');

  /** An amount of money with the site's currency. */
  money = (x: number | null | undefined): string => [figure(x), this.currency].filter(Boolean).join(' ');

  /** The unit this person reads figures of `own` in. */
  unit(own: string): string {
    const of = unitOf(own);
    return (of && this.choices[of.dimension]) ?? own;
  }

  of(dimension: Dimension): string {
    return this.choices[dimension] ?? '';
  }

  /** A figure of the program's own unit in this person's, with its unit. */
  says(x: number, own: string): string {
    return `${this.plain(x, own)} ${this.unit(own)}`;
  }

  plain(x: number, own: string): string {
    const [a, b] = [unitOf(own), unitOf(this.unit(own))];
    return figure(a && b ? into(x, a, b) : x);
  }
}

/** Figures as they were typed, with the person's own unit behind those that name none. */
export function withMyUnits(cells: Record<string, string>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(cells).map(([column, said]) => {
      const own = TERMS.analytes.find((a) => a.column === column)?.unit ?? '';
      const my = mine.unit(own);
      return [column, my !== own && /^[<>]?\s*-?[\d.,]+$/.test(said.trim()) ? `${said.trim()} ${my}` : said];
    }),
  );
}

export const mine = new Mine();
