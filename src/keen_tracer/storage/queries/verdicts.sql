-- name: current_hashes
-- The input hash of each sample's current verdict.
select distinct on (sample_id) sample_id, input_hash from verdict
where sample_id = any(%(samples)s) order by sample_id, id desc;

-- name: copy_verdicts
-- New verdicts, in bulk.
copy verdict (sample_id, limits_version_id, peers_version_id, rules, policy, input_hash, level, channels, findings,
    actions, may_run, may_run_until, lead) from stdin;

-- name: queue
-- Current verdict and standing decision of every sample of the engines where some sample waits; which ones do is for the
-- core to say.
select v.sample_id, s.code as sample, e.code as engine, e.name, e.depot, l.on_date, v.level, v.input_hash, v.channels,
    d.id::text as standing, d.level as signed_level, d.kind as decision_kind, d.proposed, d.basis
from wall w join engine e on e.id = w.engine_id join log_now l on l.engine_id = e.id and l.kind = 'sample'
join draw on draw.log_id = l.id join sample s on s.id = draw.sample_id
cross join lateral (select * from verdict where sample_id = s.id order by id desc limit 1) v
left join decision_now d on d.sample_id = s.id
where w.waiting > 0;

-- name: queue_count
-- How many samples wait for a person.
select coalesce(sum(waiting), 0) from wall;

-- name: verdict_of_sample
-- The current verdict of one sample.
select v.*, n.name as limits_version, p.name as peers_version from verdict v
join limits_version n on n.id = v.limits_version_id left join peers_version p on p.id = v.peers_version_id
where v.sample_id = %(sample)s order by v.id desc limit 1;

-- name: verdicts_of_engine
-- The current verdict of every sample of one engine.
select distinct on (v.sample_id) s.code as sample, v.level, v.channels, v.findings, v.actions, v.may_run,
    v.may_run_until, v.input_hash
from verdict v join sample s on s.id = v.sample_id join draw d on d.sample_id = s.id
join log_now l on l.id = d.log_id where l.engine_id = %(engine)s order by v.sample_id, v.id desc;

-- name: stale_engines
-- Engines whose figures changed since they were judged, held so that two who judge at once share the work.
select engine_id from judging_queue order by since, engine_id limit %(limit)s for update skip locked;

-- name: stale_count
-- How many engines wait to be judged.
select count(*) from judging_queue;

-- name: mark_stale
-- Engines to judge again.
insert into judging_queue (engine_id) select unnest(%(ids)s::int[]) on conflict (engine_id) do nothing;

-- name: mark_all_stale
-- Every engine, after new limits or new fresh-oil figures.
insert into judging_queue (engine_id) select id from engine on conflict (engine_id) do nothing;

-- name: take_stale
-- Take engines off the list; the row lock makes an import that comes meanwhile mark them again.
delete from judging_queue where engine_id = any(%(ids)s) returning engine_id;

-- name: wall_put
-- The Wall's row of one engine.
insert into wall (engine_id, level, signed_level, run_state, due_on, open_stop, waiting, picture)
values (%(engine)s, %(level)s, %(signed)s, %(run)s, %(due)s, %(open_stop)s, %(waiting)s, %(picture)s)
on conflict (engine_id) do update set level = excluded.level, signed_level = excluded.signed_level,
    run_state = excluded.run_state, due_on = excluded.due_on, open_stop = excluded.open_stop,
    waiting = excluded.waiting, picture = excluded.picture, refreshed_at = now();

-- name: wall_heads
-- What groups and sorts the Wall, for every engine that fits the filters.
select e.id, e.code, e.depot, w.level, w.signed_level, w.run_state, w.due_on, w.open_stop
from engine e left join wall w on w.engine_id = e.id
where (%(depot)s::text is null or e.depot = %(depot)s)
and (%(find)s::text is null or e.code ilike %(find)s or e.name ilike %(find)s or e.model ilike %(find)s)
order by e.code;

-- name: wall_pictures
-- The Wall's rows of the given engines.
select e.id, e.code, e.name, e.depot, e.class, e.meter_unit, w.picture, w.level, w.signed_level, w.run_state
from engine e left join wall w on w.engine_id = e.id where e.id = any(%(ids)s);

-- name: open_stops
-- Engines with a Stop nobody has decided on yet.
select e.code, e.name from wall w join engine e on e.id = w.engine_id where w.open_stop order by e.code;

-- name: find
-- Engines, samples and oils by any part of their name.
(select 'engine' as kind, code as name, coalesce(nullif(name, ''), class) as detail, code as engine from engine
    where code ilike %(like)s or name ilike %(like)s order by code limit 8)
union all
(select 'sample', s.code, to_char(l.on_date, 'YYYY-MM-DD'), e.code from sample s join draw d on d.sample_id = s.id
    join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id
    where s.code ilike %(like)s order by l.on_date desc limit 6);

-- name: count_verdicts
-- How many verdicts were ever written.
select count(*) from verdict;

-- name: limits_versions
-- Published versions of limits, newest first.
select name, published_at, published_by from limits_version order by id desc limit 30;

-- name: model_code_there
-- Whether there is such a model.
select 1 as there from model where code = %(code)s;

-- name: engine_code_there
-- Whether there is such an engine.
select 1 as there from engine where code = %(code)s;

-- name: levels_of_samples
-- The level of each sample's current verdict, and whether a person signed it.
select distinct on (v.sample_id) v.sample_id, v.level, d.id is not null as signed
from verdict v left join decision_now d on d.sample_id = v.sample_id and d.kind = 'sign_off'
where v.sample_id = any(%(samples)s) order by v.sample_id, v.id desc;
