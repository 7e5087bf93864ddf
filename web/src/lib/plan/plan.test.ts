import { describe, expect, it } from 'vitest';
import { addDays, allowed, byDay, daysBetween, marks, wayOf, type Line, type Task } from './plan';

const task = (over: Partial<Task>): Task => ({
  key: 'sample:1:meter',
  kind: 'sample',
  code: 'meter',
  short: 'sample',
  what: 'Sample',
  form: 'bottle',
  tools: '',
  caution: '',
  day: '2026-11-28',
  earliest: '2026-11-26',
  latest: '2026-12-02',
  at_dial: null,
  hours: 0.4,
  level: 0,
  late: 0,
  at_rest: true,
  movable: true,
  who: '',
  move: null,
  moved_by: '',
  reason: '',
  work: null,
  case: null,
  quick: '',
  after: [],
  ...over,
});
const line = (...tasks: Task[]): Line => ({
  code: 'G-01',
  name: 'Groomer',
  depot: 'valley',
  unit: 'h',
  level: 0,
  may_run: 'runs',
  failure_cost: null,
  risk: null,
  tasks,
});
const today = '2026-11-27';

describe('the plan', () => {
  it('counts days over months and years', () => {
    expect(daysBetween('2026-12-30', '2027-01-02')).toBe(3);
    expect(addDays('2026-02-27', 2)).toBe('2026-03-01');
  });
  it('puts marks that would cover each other into lanes', () => {
    const found = marks(
      line(task({ key: 'a' }), task({ key: 'b' }), task({ key: 'c', day: '2026-12-05' })),
      today,
      28,
      3,
    );
    expect(found.map((m) => [m.task.key, m.at, m.lane])).toEqual([
      ['a', 1, 0],
      ['b', 1, 1],
      ['c', 8, 0],
    ]);
    expect(found[0]).toMatchObject({ from: 0, to: 5 });
  });
  it('knows where a task may go without a reason', () => {
    expect(allowed(task({}), '2026-12-02', today)).toBe(true);
    expect(allowed(task({}), '2026-12-03', today)).toBe(false);
    expect(allowed(task({}), '2026-11-26', today)).toBe(false);
    expect(allowed(task({ movable: false }), '2026-11-28', today)).toBe(false);
    const late = task({ earliest: '2026-11-01', latest: '2026-11-20' });
    expect([today, '2026-11-28'].map((d) => allowed(late, d, today))).toEqual([true, false]);
  });
  it('leads to where it is said to be done', () => {
    expect(wayOf('G/1', task({}))).toBe('/collect/G%2F1');
    expect(wayOf('G-1', task({ form: 'check', code: 'blotter' }))).toContain('check=blotter');
    expect(wayOf('G-1', task({ form: 'look', code: 'inspect' }))).toBe('/inspect/G-1');
    expect(wayOf('G-1', task({ form: 'work', case: 'c1' }))).toBe('/case/c1');
  });
  it('lists by day', () => {
    const listed = byDay([line(task({ key: 'b', day: '2026-12-01' }), task({ key: 'a', day: today }))]);
    expect(listed.map(([day, found]) => [day, found.length])).toEqual([
      [today, 1],
      ['2026-12-01', 1],
    ]);
  });
});
