/** Words of the fleet record's fields. The unit stands with the word; what may be in a field is said by the server. */
export const FIELD_WORDS: Record<string, { word: string; hint?: string }> = {
  depot: { word: 'Depot' },
  name: { word: 'Name' },
  time_zone: { word: 'Time zone', hint: 'such as Europe/Oslo' },
  walking_order: { word: 'Place in the walk', hint: '1 comes first' },
  daily_capacity: { word: 'Bottles a day, at most' },
  model: { word: 'Model' },
  class: { word: 'Class' },
  oil_total_l: { word: 'All circulating oil, L', hint: 'sump, filter and cooler' },
  sump_l: { word: 'Oil at a change, L' },
  allowed_grades: { word: 'Allowed grades', hint: 'such as 10W-40;15W-40' },
  layout: { word: 'Cylinder layout', hint: 'such as in line 6' },
  bearing_type: { word: 'Bearings', hint: 'such as leaded tri-metal' },
  part_materials: { word: 'What each part is of', hint: 'such as liner=cast iron;ring=chromium' },
  sampling_point: { word: 'Sampling point' },
  between_marks_l: { word: 'Between the marks, L' },
  features: { word: 'Features', hint: 'particulate_filter;direct_injection;silver_bearings;evaporating_oil' },
  dipstick_to_low_mm: { word: 'Stick to its low mark, mm', hint: 'from its top stop' },
  test_limits: {
    word: 'Pass criteria of tests',
    hint: 'such as minimum_hot=1.2;allowed_spread=15; bar, %, mL, mbar',
  },
  failure_cost: { word: 'A failure costs', hint: 'with everything that stands still then' },
  known_faults: {
    word: 'Known faults',
    hint: 'one after the other with semicolons; of which serial numbers, as 4100 to 4390; from where',
  },
  engine: { word: 'Engine', hint: 'the short name on its door' },
  meter_unit: { word: 'Meter counts' },
  carry_over_frac: { word: 'Old oil left at a change', hint: 'a share, 0.1 where not known' },
  oil: { word: 'Oil' },
  fuel: { word: 'Fuel' },
  coolant: { word: 'Coolant' },
  in_service_on: { word: 'In service since', hint: 'year-month-day' },
  sampling_method: { word: 'Sampled' },
  interval_meter: { word: 'Sample every, meter units' },
  interval_days: { word: 'Sample every, days' },
  nominal_drain_meter: { word: 'Oil change every, meter units' },
  nominal_drain_days: { word: 'Oil change every, days', hint: '365 where once a year is asked' },
  serial_number: { word: 'Serial number' },
  Na_mg_kg: { word: 'Sodium, mg/kg' },
  K_mg_kg: { word: 'Potassium, mg/kg' },
  B_mg_kg: { word: 'Boron, mg/kg' },
  Si_mg_kg: { word: 'Silicon, mg/kg' },
  density_kg_l: { word: 'Density, kg/L' },
  glycol_pct: { word: 'Glycol, %' },
};

export const fieldWord = (name: string): string => FIELD_WORDS[name]?.word ?? name.replaceAll('_', ' ');

export const PLACES = [
  { place: 'engines', word: 'Engines', one: 'engine' },
  { place: 'models', word: 'Models', one: 'model' },
  { place: 'depots', word: 'Depots', one: 'depot' },
  { place: 'oils', word: 'Oils', one: 'batch of oil' },
  { place: 'coolants', word: 'Coolants', one: 'coolant' },
] as const;

/** The cells that differ from what was read: only those are sent, with the key. */
export function changed(
  now: Record<string, string>,
  was: Record<string, string>,
  key: string,
): Record<string, string> {
  return Object.fromEntries(Object.entries(now).filter(([k, v]) => k === key || v !== (was[k] ?? '')));
}
