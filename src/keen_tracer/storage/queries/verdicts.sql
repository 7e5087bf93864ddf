-- name: current_hashes
-- The input hash of each sample's current verdict.
select distinct on (sample_id) sample_id, input_hash from verdict
where sample_id = any(%(samples)s) order by sample_id, id desc;

-- name: copy_verdicts
-- New verdicts, in bulk.
copy verdict (sample_id, limits_version_id, peers_version_id, rules, policy, input_hash, level, channels, findings,
    actions, may_run, may_run_until, may_run_until_on, lead, second, checks) from stdin;

-- name: queue
-- The samples that wait for a person, worst first, then oldest, with current verdict and standing decision.
select v.sample_id, s.code as sample, e.code as engine, e.name, e.depot, q.on_date, v.level, v.input_hash, v.channels,
    d.id::text as standing, d.level as signed_level, d.kind as decision_kind,
    exists (select 1 from query x where x.engine_id = q.engine_id and x.sample = s.code) as queried, w.level as stands
from (select * from waiting_sample order by level desc, on_date, sample_id limit %(limit)s) q
join engine e on e.id = q.engine_id join sample s on s.id = q.sample_id left join wall w on w.engine_id = q.engine_id
cross join lateral (select * from verdict where sample_id = s.id order by id desc limit 1) v
left join decision_now d on d.sample_id = s.id
order by q.level desc, q.on_date, e.code;

-- name: waiting_clear
-- What waited of the given engines is counted anew; a sample that was moved may still stand under another one.
delete from waiting_sample where engine_id = any(%(ids)s) or sample_id = any(%(samples)s);

-- name: mark
-- The mark that moves with every write.
select last_value from change_mark;

-- name: state
-- What every page shows of what waits, in one statement.
select (select count(*) from waiting_sample) as queue,
    (select count(*) from judging_queue) as stale,
    (select min(since) from judging_queue) as stale_since,
    (select count(*) from engine) as engines,
    (select count(*) from query) as queries;

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

-- name: stale_since
-- Since when the engine that waits longest to be judged waits.
select min(since) as since from judging_queue;

-- name: mark_stale
-- Engines to judge again.
insert into judging_queue (engine_id) select unnest(%(ids)s::int[]) on conflict (engine_id) do nothing;

-- name: mark_all_stale
-- Every engine, after new limits or new fresh-oil figures.
insert into judging_queue (engine_id) select id from engine on conflict (engine_id) do nothing;

-- name: mark_models_stale
-- The engines of the models of the given ones: what was found at one bears on the others.
insert into judging_queue (engine_id) select distinct x.id from engine e join engine x on x.model = e.model
where e.id = any(%(engines)s) on conflict (engine_id) do nothing;

-- name: judging_takes
-- These engines are judged by this transaction until it ends. Always in one order, so that nobody waits in a circle.
select count(*) from (select id from engine where id = any(%(ids)s) order by id for no key update) taken;

-- name: take_stale
-- Take engines off the list; the row lock makes an import that comes meanwhile mark them again.
delete from judging_queue where engine_id = any(%(ids)s) returning engine_id;

-- name: wall_put
-- The Wall's row of one engine.
insert into wall (engine_id, level, signed_level, until_on, due_on, open_stop, waiting, need, picture)
values (%(engine)s, %(level)s, %(signed)s, %(until_on)s, %(due)s, %(open_stop)s, %(waiting)s, %(need)s, %(picture)s)
on conflict (engine_id) do update set level = excluded.level, signed_level = excluded.signed_level,
    until_on = excluded.until_on, due_on = excluded.due_on, open_stop = excluded.open_stop,
    waiting = excluded.waiting, need = excluded.need, picture = excluded.picture, refreshed_at = keen_clock();

-- name: wall_row
-- The Wall's row of one engine as it is kept.
select picture, due_on, waiting from wall where engine_id = %(engine)s;

-- name: unjudged_put
-- An engine that cannot be judged; since when stays.
insert into unjudged (engine_id, why, incident) values (%(engine)s, %(why)s, %(incident)s)
on conflict (engine_id) do update set why = excluded.why, incident = excluded.incident;

-- name: unjudged_clear
-- Engines that were judged.
delete from unjudged where engine_id = any(%(ids)s);

-- name: unjudged
-- Engines that cannot be judged, the oldest first.
select u.engine_id, e.code, e.name, u.since, u.why from unjudged u join engine e on e.id = u.engine_id
order by u.since, e.code;

-- name: is_unjudged
-- Why one engine cannot be judged, if so.
select why from unjudged where engine_id = %(engine)s;

-- name: wall_groups
-- How many engines fit the filters, by depot and by place in the groups of the Wall; a quiet one that is overdue
-- counts there, and one whose permission has run out among those not to run.
select coalesce(e.depot, '') as depot,
    case when w.until_on < coalesce(d.today, %(site)s) then %(halted)s
    when coalesce(w.need, %(quiet)s) = %(quiet)s and w.due_on < coalesce(d.today, %(site)s) then %(overdue)s
    else coalesce(w.need, %(quiet)s) end as need, coalesce(e.failure_cost, m.failure_cost) is not null as priced,
    count(*) as n
from engine e left join wall w on w.engine_id = e.id left join model m on m.code = e.model
left join unnest(%(depots)s::text[], %(days)s::date[]) as d(code, today) on d.code = e.depot
where (%(depot)s::text is null or e.depot = %(depot)s)
and (%(find)s::text is null or e.code ilike %(find)s or e.name ilike %(find)s or e.model ilike %(find)s)
group by 1, 2, 3 order by 1, 2, 3;

-- name: wall_window
-- A window of the Wall in its order: by depot, by chance × cost (`chances` by level), or by who needs someone; the
-- longest overdue come first. The picture as
-- text: it is read only where the line is not kept.
with listed as (
    select e.id, e.code, e.depot, w.due_on, greatest(w.level, 0) as level,
        case when w.until_on < coalesce(d.today, %(site)s) then %(halted)s
        when coalesce(w.need, %(quiet)s) = %(quiet)s and w.due_on < coalesce(d.today, %(site)s) then %(overdue)s
        else coalesce(w.need, %(quiet)s) end as need,
        (%(chances)s::double precision[])[1 + greatest(w.level, 0)] * coalesce(e.failure_cost, m.failure_cost) as stake
    from engine e left join wall w on w.engine_id = e.id left join model m on m.code = e.model
    left join unnest(%(depots)s::text[], %(days)s::date[]) as d(code, today) on d.code = e.depot
    where (%(depot)s::text is null or e.depot = %(depot)s)
    and (%(find)s::text is null or e.code ilike %(find)s or e.name ilike %(find)s or e.model ilike %(find)s)
), wanted as (
    select id, need, row_number() over (order by case when %(order)s = 'depot' then coalesce(depot, '') end,
        case when %(order)s = 'risk' then stake end desc nulls last,
        case when %(order)s <> 'depot' then need end, case when %(order)s <> 'depot' then level end desc nulls last,
        case when need = %(overdue)s then due_on end nulls last, code) as place
    from listed order by place limit %(limit)s offset %(offset)s
)
select e.id, e.code, e.name, e.depot, e.meter_unit, w.picture::text, w.refreshed_at, w.level, w.signed_level, w.due_on,
    coalesce(w.open_stop, false) as open_stop, x.need, coalesce(e.failure_cost, m.failure_cost) as failure_cost
from wanted x join engine e on e.id = x.id left join wall w on w.engine_id = e.id left join model m on m.code = e.model
order by x.place;

-- name: wall_lines
-- The Wall's rows of the given engines, in no order.
select e.id, e.code, e.name, e.depot, e.meter_unit, w.picture::text, w.refreshed_at, w.level, w.signed_level, w.due_on,
    coalesce(w.open_stop, false) as open_stop, coalesce(w.need, %(quiet)s) as need,
    coalesce(e.failure_cost, m.failure_cost) as failure_cost
from engine e left join wall w on w.engine_id = e.id left join model m on m.code = e.model where e.id = any(%(ids)s);

-- name: wall_due
-- Engines of a depot that a round may have to visit: due by a day, or to be sampled again.
select e.id from engine e join wall w on w.engine_id = e.id
where (%(depot)s::text is null or e.depot = %(depot)s)
and (w.due_on <= %(by)s or w.picture ->> 'sample_code' = any(%(again)s));

-- name: open_stops
-- Engines with a Stop nobody has decided on yet.
select e.code, e.name from wall w join engine e on e.id = w.engine_id where w.open_stop order by e.code;

-- name: state_of_engine
-- The state of one engine as it was judged last.
select picture -> 'state' as state from wall where engine_id = %(engine)s;

-- name: judging_waits
-- Whether an engine waits to be judged.
select 1 as waits from judging_queue where engine_id = %(engine)s;

-- name: stopped
-- Engines that must not run: a Stop is open, or somebody holds them.
select e.code from wall w join engine e on e.id = w.engine_id
where w.picture -> 'state' ->> 'may_run' = 'do_not_run' order by e.code;

-- name: find
-- Engines, samples and cases by any part of their name; `key` is what a link to it carries.
(select 'engine' as kind, code as name, coalesce(nullif(name, ''), class) as detail, code as engine, code as key from engine
    where code ilike %(like)s or name ilike %(like)s order by code limit 8)
union all
(select 'sample', s.code, to_char(l.on_date, 'YYYY-MM-DD'), e.code, s.code from sample s join draw d on d.sample_id = s.id
    join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id
    where lower(s.code) like lower(%(like)s) order by l.on_date desc limit 6)
union all
(select 'case', k.name, case when k.closed then 'closed' else 'open' end || ' since ' || to_char(k.since, 'YYYY-MM-DD'),
    e.code, k.id::text
    from case_now k join engine e on e.id = k.engine_id where k.name ilike %(like)s or e.code ilike %(like)s
    order by k.closed, k.since desc limit 4);

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

-- name: mark_change
-- Says that something was written; pages look again.
select nextval('change_mark');

-- name: wrote_anything
-- Whether this transaction wrote anything.
select pg_current_xact_id_if_assigned() is not null;

-- name: basis_of_sample
-- Everything the desk shows of a sample rests on: another value, another page.
select concat_ws('-', w.refreshed_at, (select count(*) from query x where x.engine_id = l.engine_id),
    (select max(id) from limits_version), (select max(id) from peers_version), (select max(id) from weights_version),
    (select count(*) from policy), (select max(id) from report where sample_id = s.id), %(today)s::timestamptz) as basis
from sample s join draw d on d.sample_id = s.id join log_now l on l.id = d.log_id
left join wall w on w.engine_id = l.engine_id where s.code = %(code)s;

-- name: judged_at
-- When engines were judged last; no row of one that waits to be judged again.
select w.engine_id as id, w.refreshed_at as at from wall w where w.engine_id = any(%(ids)s)
and not exists (select 1 from judging_queue q where q.engine_id = w.engine_id);

-- name: levels_of_samples
-- The level of each sample's current verdict, and whether a person signed it.
select distinct on (v.sample_id) v.sample_id, v.level, d.id is not null as signed
from verdict v left join decision_now d on d.sample_id = v.sample_id and d.kind = 'sign_off'
where v.sample_id = any(%(samples)s) order by v.sample_id, v.id desc;

-- name: before_rules_take
-- What every engine's state is, before it is judged by other rules; what nobody has seen yet stays.
insert into before_rules (engine_id, rules, level, may_run)
select engine_id, %(rules)s, level, coalesce(picture -> 'state' ->> 'may_run',
    case when open_stop then 'do_not_run' else 'unknown' end) from wall
on conflict (engine_id) do update set rules = excluded.rules, level = excluded.level, may_run = excluded.may_run,
    graver = null, seen_by = null, seen_at = null
where before_rules.seen_at is not null or before_rules.graver is false;

-- name: before_rules_settle
-- Which engines became graver by the new rules, once they are judged; each is said once.
update before_rules b set graver = b.may_run <> 'do_not_run' and (coalesce(w.level, 0) > coalesce(b.level, 0)
    or (w.picture -> 'state' ->> 'may_run' = any(%(halted)s) and not b.may_run = any(%(halted)s)))
from wall w join engine e on e.id = w.engine_id
where w.engine_id = b.engine_id and b.graver is null
    and not exists (select 1 from judging_queue q where q.engine_id = b.engine_id)
returning e.code, b.graver;

-- name: graver
-- Engines that became graver by the rules of this version and that nobody has seen yet.
select e.code, e.name, b.level as was_level, b.may_run as was_may_run, w.level, w.picture::text as picture,
    e.meter_unit as unit, e.depot
from before_rules b join engine e on e.id = b.engine_id join wall w on w.engine_id = b.engine_id
where b.graver and b.seen_at is null order by w.level desc nulls last, e.code limit %(n)s;

-- name: graver_seen
-- Somebody has seen which of these engines became graver.
update before_rules b set seen_by = %(by)s, seen_at = keen_now() from engine e
where e.id = b.engine_id and e.code = any(%(codes)s) and b.graver and b.seen_at is null;
