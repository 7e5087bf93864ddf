-- name: photos_of_engine
-- Photographs of one engine, oldest first; a corrected row keeps those of the row it replaced.
with recursive now_of as (
    select l.id as first, l.id, l.engine_id from log l
    union all select n.first, x.id, x.engine_id from now_of n join log x on x.replaces = n.id and not x.voided)
select distinct on (p.taken_at, p.id) p.sha256, p.caption, l.on_date, l.kind, coalesce(v.part, '') as part,
    coalesce(v.details->>'result', '') as result, s.code as sample, p.taken_by
from photo p join now_of n on n.first = p.log_id join log_now l on l.id = n.id
left join event v on v.log_id = l.id left join draw d on d.log_id = l.id left join sample s on s.id = d.sample_id
where l.engine_id = %(engine)s order by p.taken_at, p.id;

-- name: record_change_put
-- Who changed what in the fleet record.
insert into record_change (place, code, field, old, new, changed_by)
values (%(place)s, %(code)s, %(field)s, %(old)s, %(new)s, %(by)s);

-- name: record_changes
-- The newest changes of one entry of the fleet record.
select field, old, new, changed_by as "by", changed_at as at from record_change
where place = %(place)s and code = %(code)s order by id desc limit 50;

-- name: plan_drop
-- Forget the plans of one engine, before they are written again.
delete from plan where engine_id = %(engine)s;

-- name: log_whole
-- One log row with all its own columns, and whether another replaces it.
select l.*, exists (select 1 from log newer where newer.replaces = l.id) as replaced from log l where l.id = %(id)s;

-- name: draw_said
-- What a drawn sample's row says.
select * from draw where log_id = %(id)s;

-- name: event_said
-- What an event's row says.
select * from event where log_id = %(id)s;

-- name: draw_of_sample
-- Where a bottle stands on the time line now.
select l.id as log_id, l.engine_id, l.on_date, l.at_time, l.seq, l.dial, l.typed, s.id as sample_id, e.code as engine
from sample s join draw d on d.sample_id = s.id join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id
where s.code = %(code)s;

-- name: corrections_of_engine
-- Rows of one engine that were corrected or taken back, each beside what stands in its place now.
select old.id::text as id, old.kind, s.code as sample, old.on_date, old.dial, was.code as engine, old.recorded_by,
    l.voided, l.on_date as on_date_now, l.dial as dial_now, now.code as engine_now, ns.code as sample_now, l.reason,
    l.recorded_by as corrected_by, l.recorded_at as corrected_at, v.oil, nv.oil as oil_now
from log l join log old on old.id = l.replaces
join engine was on was.id = old.engine_id join engine now on now.id = l.engine_id
left join draw d on d.log_id = old.id left join sample s on s.id = d.sample_id
left join draw nd on nd.log_id = l.id left join sample ns on ns.id = nd.sample_id
left join event v on v.log_id = old.id left join event nv on nv.log_id = l.id
where %(engine)s in (old.engine_id, l.engine_id) order by l.recorded_at desc, old.id;

-- name: query_answer_put
-- What a person said to a query.
insert into answer (id, engine_id, query, code, said, numbers, reason, answered_by, answered_at)
values (%(id)s, %(engine)s, %(query)s, %(code)s, %(said)s, %(numbers)s, %(reason)s, %(by)s, coalesce(%(at)s, keen_clock()))
on conflict (engine_id, query) do nothing;

-- name: answers_of_engines
-- Queries of the given engines that were answered.
select engine_id, query from answer where engine_id = any(%(ids)s);

-- name: queries_clear
-- Forget the open queries of some engines, before they are found again.
delete from query where engine_id = any(%(ids)s);

-- name: queries_open
-- Queries that wait, of one engine or of all, newest first.
select e.code as engine, e.name, e.depot, e.meter_unit as unit, q.key, q.code, q.sample, q.log::text as log,
    q.on_date, q.numbers
from query q join engine e on e.id = q.engine_id
where (%(engine)s::text is null or e.code = %(engine)s) and (%(code)s::text is null or q.code = %(code)s)
order by q.on_date desc nulls last, e.code, q.key limit 1000;

-- name: query_one
-- One query that waits.
select e.id as engine_id, q.key, q.code, q.sample, q.log::text as log, q.on_date, q.numbers from query q join engine e on e.id = q.engine_id
where e.code = %(engine)s and q.key = %(key)s;

-- name: answers_of_engine
-- What was said to the queries of one engine, newest first.
select a.query as key, a.code, a.said, a.numbers, a.reason, a.answered_by as "by", a.answered_at as at
from answer a join engine e on e.id = a.engine_id where e.code = %(engine)s order by a.answered_at desc;

-- name: model_codes
-- Models.
select code from model order by code;

-- name: engine_codes
-- Engines.
select code from engine order by code;

-- name: coolant_codes
-- Coolants.
select code from coolant order by code;

-- name: log_rows_of_engine
-- Everything current in one engine's log with its own words, newest first.
select l.id::text, l.kind, l.on_date, l.at_time, l.dial, l.recorded_by, l.recorded_at::date as recorded_on,
    l.replaces is not null as corrected, s.code as sample, d.purpose, d.method, d.oil_change_dial,
    d.oil_changed_after, d.top_up_l, d.appearance, d.smell, d.level_on_stick, d.hours_on_oil, v.dial_new, v.litres_in,
    v.litres_drained, coalesce(v.oil, d.oil, '') as oil, coalesce(v.grade, '') as grade, coalesce(v.batch, '') as batch,
    coalesce(v.part, '') as part, coalesce(v.note, d.note, '') as note, coalesce(v.details, '{}') as details,
    coalesce(n.step, '') as step, exists (select 1 from report_kept r where r.sample_id = d.sample_id) as figures,
    coalesce(l.typed, '{}') as typed
from log_now l left join event v on v.log_id = l.id left join draw d on d.log_id = l.id
left join sample s on s.id = d.sample_id left join bottle_now n on n.sample_id = d.sample_id
where l.engine_id = %(engine)s order by l.on_date desc, l.at_time desc nulls first, l.seq desc, l.recorded_at desc
limit %(limit)s;

-- name: engines_of_round
-- Engines of the same depot with a bottle drawn within some days of a day, the nearest first.
select x.id, x.code
from engine e join engine x on x.depot is not distinct from e.depot and x.id <> e.id
cross join lateral (
    select min(abs(l.on_date - %(day)s::date)) as apart from log_now l
    where l.engine_id = x.id and l.kind = 'sample'
        and l.on_date between %(day)s::date - %(days)s::int and %(day)s::date + %(days)s::int
) near
where e.id = %(engine)s and near.apart is not null
order by near.apart, x.code limit %(most)s;

-- name: label_queries
-- Queries of exchanged labels that wait at some engines, or at others and name one of them.
select e.id as engine_id, e.code as engine, q.key from query q join engine e on e.id = q.engine_id
where q.code = %(code)s
    and (e.code = any(%(engines)s) or q.numbers ->> 'other_engine' = any(%(engines)s));

-- name: label_answers
-- What was answered at some engines to queries of exchanged labels.
select a.query as key, a.numbers ->> 'other' as other from answer a join engine e on e.id = a.engine_id
where a.code = %(code)s and e.code = any(%(engines)s);
