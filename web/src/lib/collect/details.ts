import { TERMS } from '../terms';

/** What may be written down beside an event's columns, as the server lists it. */
export type Detail = (typeof TERMS.details)[number];

/** The facts worth asking for, by kind and part. */
export function detailsOf(kind: string, part: string): Detail[] {
  return TERMS.details.filter(
    (d) => d.kind === kind && (d.parts.length === 0 || (d.parts as readonly string[]).includes(part)),
  );
}

/** The filled ones, trimmed. */
export function filled(
  details: Record<string, string>,
  wanted: readonly { name: string }[],
): Record<string, string> {
  return Object.fromEntries(
    wanted.flatMap((d) => {
      const value = `${details[d.name] ?? ''}`.trim();
      return value ? [[d.name, value]] : [];
    }),
  );
}
