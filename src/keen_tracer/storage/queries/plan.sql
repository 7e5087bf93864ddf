-- name: plan_rows
-- Engines of a depot, or of all, with what they ask for.
select e.id, e.code, e.name, e.depot, e.meter_unit as unit, coalesce(d.walking_order, 0) as walk, w.level,
    coalesce(w.picture->'tasks', '[]') as tasks, w.picture->'state'->>'may_run' as may_run,
    (w.picture->'state'->>'until')::double precision as until, (w.picture->'state'->>'until_on')::date as until_on,
    coalesce(w.picture->'state'->'barred', '[]') as barred, (w.picture->>'dial')::double precision as dial, coalesce(e.failure_cost, m.failure_cost) as failure_cost
from engine e left join wall w on w.engine_id = e.id left join depot d on d.code = e.depot left join model m on m.code = e.model
where %(depot)s::text is null or e.depot = %(depot)s order by e.code;

-- name: plan_row
-- One engine with what it asks for.
select e.id, e.code, e.name, e.depot, e.meter_unit as unit, 0 as walk, w.level, coalesce(w.picture->'tasks', '[]') as tasks,
    w.picture->'state'->>'may_run' as may_run, (w.picture->>'dial')::double precision as dial
from engine e left join wall w on w.engine_id = e.id where e.code = %(code)s;

-- name: task_moves
-- The standing move of every task of the given engines.
select m.engine_id, m.task, m.id, m.day, m.reason, m.moved_by as by from task_move m
where m.engine_id = any(%(engines)s) and not exists (select 1 from task_move n where n.follows = m.id);

-- name: written_of_engines
-- How much was ever written of the given engines, moves of their tasks included; it never falls.
select e.id as engine_id, (select count(*) from log l where l.engine_id = e.id)
    + (select count(*) from task_move m where m.engine_id = e.id) as n
from engine e where e.id = any(%(engines)s);

-- name: task_move_there
-- Whether a move was made.
select id from task_move where id = %(id)s;

-- name: work_to_do
-- Work that is not done or dropped, of the given engines.
select w.id, w.item, w.engine_id, w.case_id, w.kind, w.words, w.state, w.who, w.due, w.hours from work_item w
where w.engine_id = any(%(engines)s) and w.state in ('open', 'decided')
    and not exists (select 1 from work_item n where n.replaces = w.id) order by w.due nulls last, w.item;

-- name: hours_of_depots
-- What people said of a depot's hours, the newest of each depot and day of the year.
select distinct on (depot, starts) depot, starts, hours from depot_hours order by depot, starts, id desc;

-- name: feeds
-- Calendars that were not revoked.
select id, coalesce(depot, '') as depot, person, made_by, made_at from calendar_feed where revoked_at is null order by made_at;

-- name: feed_by_hash
-- A calendar by the hash of its secret.
select id, depot, person from calendar_feed where secret_hash = %(hash)s and revoked_at is null;

-- name: feed_revoke
-- A calendar's address is no longer any.
update calendar_feed set revoked_at = keen_now() where id = %(id)s and revoked_at is null;

-- name: depot_by_code
-- Whether a depot is there.
select code from depot where code = %(code)s;

-- name: hours_there
-- Whether the hours of a depot were said at a moment.
select id from depot_hours where depot = %(depot)s and starts = %(starts)s and said_at = %(at)s;
