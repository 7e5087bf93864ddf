import type { Schemas } from '../api/client';

export type Task = Schemas['Listed'];
export type Line = Schemas['PlanLine'];

const DAY_MS = 86_400_000;

/** Days from one ISO day to another. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(to) - Date.parse(from)) / DAY_MS);

/** An ISO day so many days on. */
export const addDays = (iso: string, n: number): string =>
  new Date(Date.parse(iso) + n * DAY_MS).toISOString().slice(0, 10);

/** A mark within its row: which lane it lies in, so that no label covers another. */
export interface Mark {
  task: Task;
  at: number;
  from: number;
  to: number;
  lane: number;
}

/** The marks of a row. `wide`: days a label takes. */
export function marks(line: Line, today: string, days: number, wide: number): Mark[] {
  const ends: number[] = [];
  return [...line.tasks]
    .sort((a, b) => a.day.localeCompare(b.day) || a.key.localeCompare(b.key))
    .map((task) => {
      const at = daysBetween(today, task.day);
      let lane = ends.findIndex((end) => end <= at);
      if (lane < 0) lane = ends.length;
      ends[lane] = at + wide;
      const inside = (iso: string) => Math.min(Math.max(daysBetween(today, iso), 0), days - 1);
      return {
        task,
        at,
        from: inside(task.earliest),
        to: Math.max(inside(task.latest), inside(task.day)),
        lane,
      };
    });
}

/** Whether a task may go to a day without a reason. */
export function allowed(task: Task, day: string, today: string): boolean {
  if (!task.movable || day < today) return false;
  return task.latest < today ? day === today : task.earliest <= day && day <= task.latest;
}

/** Where *done* is said: the form whose row makes the task vanish. */
export function wayOf(engine: string, task: Task): string {
  const code = encodeURIComponent(engine);
  const ways: Record<string, string> = {
    oil_change: `/collect/${code}?log=oil_change`,
    check: `/collect/${code}?log=field_check&check=${task.code}`,
    look: `/inspect/${code}`,
    run: `/run?engine=${code}`,
    tracking: `/bottles/${encodeURIComponent(task.code)}`,
    work: task.case ? `/case/${task.case}` : `/inspect/${code}/opened`,
  };
  return ways[task.form] ?? `/collect/${code}`;
}

/** Tasks by their day, for a list: the late ones under today. */
export function byDay(lines: readonly Line[]): [string, { line: Line; task: Task }[]][] {
  const days = new Map<string, { line: Line; task: Task }[]>();
  for (const line of lines)
    for (const task of line.tasks) days.set(task.day, [...(days.get(task.day) ?? []), { line, task }]);
  return [...days].sort(([a], [b]) => a.localeCompare(b));
}
