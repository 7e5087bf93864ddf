-- name: log_row
-- One log row: who recorded it, whether another replaces it, whether figures of its sample are in.
select l.id, l.engine_id, l.on_date, l.at_time, l.dial, l.kind, l.recorded_by,
    exists (select 1 from log newer where newer.replaces = l.id) as replaced,
    exists (select 1 from draw d join report_kept r on r.sample_id = d.sample_id where d.log_id = l.id) as reports
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
-- The highest whole number among the newest bottles' codes and the labels printed so far.
select greatest((select max(code::bigint) from (select code from sample order by id desc limit 2000) newest
    where code ~ '^[0-9]{1,15}$'), (select max(first + pieces - 1) from label_run));

-- name: label_run_put
-- A run of printed labels.
insert into label_run (first, pieces, engines, printed_by)
values (%(first)s, %(pieces)s, %(engines)s, %(by)s) returning id;

-- name: label_run
-- One run of printed labels, with the names of the engines it was printed for.
select r.first, r.pieces, r.engines, array(select coalesce((select nullif(e.name, '') from engine e where e.code = x.code),
    '') from unnest(r.engines) with ordinality x(code, n) order by x.n) as names
from label_run r where r.id = %(id)s;

-- name: labels_unused
-- Labels of the last two months that no bottle carries yet, oldest first, with the engine each was printed for.
select n::text as code, coalesce(r.engines[(n - r.first)::int + 1], '') as engine
from label_run r cross join lateral generate_series(r.first, r.first + r.pieces - 1) n
where r.printed_at > keen_now() - interval '60 days' and not exists (select 1 from sample s where s.code = n::text)
order by r.id, n;

-- name: attachment_put
-- A photograph by what it holds.
insert into attachment (sha256, media, width, height, content, small)
values (%(sha256)s, %(media)s, %(width)s, %(height)s, %(content)s, %(small)s) on conflict (sha256) do nothing;

-- name: attachment
-- One photograph.
select media, content from attachment where sha256 = %(sha256)s;

-- name: attachment_small
-- One photograph, small; as it is kept where no small one was made.
select media, coalesce(small, content) as content from attachment where sha256 = %(sha256)s;

-- name: photo_put
-- A photograph of something in the log.
insert into photo (id, log_id, sha256, caption, taken_by, taken_at)
values (%(id)s, %(log)s, %(sha256)s, %(caption)s, %(by)s, coalesce(%(at)s, keen_now())) on conflict (id) do nothing;

-- name: plans_of_engines
-- Sampling plans of the given engines.
select engine_id, kind, every, method, said from plan where engine_id = any(%(ids)s) order by engine_id, kind;

-- name: plan_put
-- One plan of an engine, in place of the one of its kind.
insert into plan (engine_id, kind, every, method, said) values (%(engine)s, %(kind)s, %(every)s, %(method)s, %(said)s)
on conflict (engine_id, kind) do update set every = excluded.every, method = excluded.method, said = excluded.said;

-- name: depots
-- Depots in walking order.
select code, name, time_zone, daily_capacity from depot order by walking_order nulls last, code;

-- name: dial_on
-- What an engine's meter read last on or before a day, and first after it.
select (select l.dial from log_now l where l.engine_id = e.id and l.dial is not null and l.on_date <= %(on)s
        order by l.on_date desc, l.dial desc limit 1) as before,
    (select max(l.on_date) from log_now l where l.engine_id = e.id and l.dial is not null and l.on_date <= %(on)s)
        as before_on,
    (select l.dial from log_now l where l.engine_id = e.id and l.dial is not null and l.on_date > %(on)s
        order by l.on_date, l.dial limit 1) as after,
    (select min(l.on_date) from log_now l where l.engine_id = e.id and l.dial is not null and l.on_date > %(on)s)
        as after_on
from engine e where e.code = %(engine)s;
