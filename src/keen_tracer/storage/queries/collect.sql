-- name: log_row
-- One log row: who recorded it, whether another replaces it, whether figures of its sample are in.
select l.id, l.engine_id, l.on_date, l.at_time, l.dial, l.kind, l.recorded_by,
    exists (select 1 from log newer where newer.replaces = l.id) as replaced,
    exists (select 1 from draw d join report r on r.sample_id = d.sample_id where d.log_id = l.id) as reports
from log l where l.id = %(id)s;

-- name: sample_holder
-- A bottle's code, and the engine it is registered to now, if any.
select s.id, e.code as engine, l.on_date from sample s left join draw d on d.sample_id = s.id
    and exists (select 1 from log_now x where x.id = d.log_id)
left join log l on l.id = d.log_id left join engine e on e.id = l.engine_id
where s.code = %(code)s order by e.code nulls last limit 1;

-- name: sample_put
-- A new bottle.
insert into sample (code) values (%(code)s) returning id;

-- name: last_label
-- The highest whole number among the newest bottles' codes.
select max(code::bigint) from (select code from sample where code ~ '^[0-9]{1,15}$' order by id desc limit 500) x;

-- name: plans_of_engines
-- Sampling plans of the given engines.
select engine_id, kind, every, method from plan where engine_id = any(%(ids)s) order by engine_id, kind;

-- name: plan_put
-- One plan of an engine, in place of the one of its kind.
insert into plan (engine_id, kind, every, method) values (%(engine)s, %(kind)s, %(every)s, %(method)s)
on conflict (engine_id, kind) do update set every = excluded.every, method = excluded.method;

-- name: depots
-- Depots in walking order.
select code, name, time_zone, daily_capacity from depot order by walking_order nulls last, code;
