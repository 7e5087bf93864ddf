/** What may be written down beside an event's columns, by kind; only what was filled in is sent. */
export interface Detail {
  name: string;
  word: string;
  choices?: readonly string[];
}

const HEARD = [
  'cold start, gone in seconds',
  'cold',
  'hot idle',
  'under load',
  'on the overrun',
  'always',
] as const;

export function detailsOf(kind: string, part: string): Detail[] {
  if (kind === 'symptom' && (part === 'noise' || part === 'knock')) {
    return [{ name: 'heard', word: 'When it is heard', choices: HEARD }];
  }
  if (kind === 'symptom' && (part === 'oil_pressure' || part === 'low_oil_pressure_hot')) {
    return [
      { name: 'pressure_cold_bar', word: 'Oil pressure cold, bar' },
      { name: 'pressure_hot_bar', word: 'Oil pressure hot, bar' },
    ];
  }
  if (kind === 'symptom' && part === 'smoke') {
    return [{ name: 'smoke', word: 'Which smoke', choices: ['black', 'blue', 'white'] }];
  }
  if (kind === 'symptom' && part === 'coolant_use') {
    return [{ name: 'coolant_l', word: 'Coolant used, L' }];
  }
  if (kind === 'oil_change') {
    return [
      { name: 'filter', word: 'Filter', choices: ['changed too', 'left in'] },
      { name: 'drained_c', word: 'Temperature of the drained oil, °C' },
    ];
  }
  return [];
}

/** The filled ones, trimmed. */
export function filled(details: Record<string, string>, wanted: Detail[]): Record<string, string> {
  return Object.fromEntries(
    wanted.flatMap((d) => {
      const value = `${details[d.name] ?? ''}`.trim();
      return value ? [[d.name, value]] : [];
    }),
  );
}
