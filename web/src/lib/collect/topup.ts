import { into, readAmount, unitOf } from '../units';

/** An amount that can be chosen by one press: as it is shown and kept, and in litres. */
export interface Amount {
  typed: string;
  litres: number;
}

const SHARE = 1 / 8; // of the sump, at most, in one press; our choice
const USUAL_SUMP_L = 20; // where the engine's is not on record; our choice

/** Two amounts to top up by one press, in the unit the person reads: a round one that fits the sump, and half of it.
 * A sump of 25 L offers 1 L and 2 L, one of 0.4 L offers 0.025 L and 0.05 L. */
export function topUps(sump: number | null, unit: string): Amount[] {
  const [litre, own] = [unitOf('L'), unitOf(unit)];
  const most = SHARE * (sump ?? USUAL_SUMP_L);
  const room = litre && own ? into(most, litre, own) : most;
  const ten = 10 ** Math.floor(Math.log10(room));
  const round = [5, 2, 1].map((x) => x * ten).find((x) => x <= room) ?? ten;
  return [round / 2, round].map((x) => {
    const typed = `${Number(x.toPrecision(3))} ${unit}`;
    return { typed, litres: readAmount(typed, 'L').value ?? 0 };
  });
}
