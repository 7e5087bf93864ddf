-- name: month_samples
-- Samples drawn in a stretch of days, each with its newest verdict and its standing sign-off.
select s.code as sample, e.code as engine, e.name as engine_name, l.on_date, v.level as proposed, v.channels, d.level as signed,
    d.decided_by, day_there(e.id, d.decided_at) as signed_on
from draw w join log_now l on l.id = w.log_id join sample s on s.id = w.sample_id join engine e on e.id = l.engine_id
left join lateral (select level, channels from verdict x where x.sample_id = s.id order by x.id desc limit 1) v on true
left join decision_now d on d.sample_id = s.id and d.kind = 'sign_off'
where l.on_date >= %(since)s and l.on_date < %(until)s and (%(depot)s::text is null or e.depot = %(depot)s)
order by l.on_date, e.code, s.code;

-- name: month_signed
-- Sign-offs decided in a stretch of days, by whom, and how many at another level than proposed.
select d.decided_by as by, count(*) as n, count(*) filter (where d.level <> d.proposed) as other
from decision d join draw w on w.sample_id = d.sample_id join log_now l on l.id = w.log_id
join engine e on e.id = l.engine_id
where d.kind = 'sign_off' and day_there(e.id, d.decided_at) >= %(since)s and day_there(e.id, d.decided_at) < %(until)s
    and (%(depot)s::text is null or e.depot = %(depot)s)
group by d.decided_by order by count(*) desc, d.decided_by;

-- name: month_runs
-- Decisions whether an engine runs, of a stretch of days.
select e.code as engine, d.run_state, d.reason, d.found, d.done, d.decided_by as by, day_there(e.id, d.decided_at) as on_date
from decision d join engine e on e.id = d.engine_id
where d.kind = 'run' and day_there(e.id, d.decided_at) >= %(since)s and day_there(e.id, d.decided_at) < %(until)s
    and (%(depot)s::text is null or e.depot = %(depot)s)
order by d.decided_at, d.id;

-- name: month_outcomes
-- What inspections found in a stretch of days.
select e.code as engine, o.on_date, s.code as sample, o.found, o.confirmed, o.hours_down, o.cost, o.saved, o.note
from outcome o join engine e on e.id = o.engine_id left join sample s on s.id = o.sample_id
where o.on_date >= %(since)s and o.on_date < %(until)s and (%(depot)s::text is null or e.depot = %(depot)s)
order by o.on_date, e.code, o.id;

-- name: month_cases
-- Cases that were opened or ended in a stretch of days.
select e.code as engine, k.name, k.since, k.closed, k.ended, k.ended_on
from case_now k join engine e on e.id = k.engine_id
where ((k.since >= %(since)s and k.since < %(until)s) or (k.ended_on >= %(since)s and k.ended_on < %(until)s))
    and (%(depot)s::text is null or e.depot = %(depot)s)
order by e.code, k.since;

-- name: signed_since
-- Samples whose standing sign-off was made since a day, by engine.
select s.code as sample from decision_now d join sample s on s.id = d.sample_id join draw w on w.sample_id = s.id
join log_now l on l.id = w.log_id join engine e on e.id = l.engine_id
where d.kind = 'sign_off' and d.level is not null and day_there(e.id, d.decided_at) >= %(since)s
    and (%(depot)s::text is null or e.depot = %(depot)s)
order by e.code, l.on_date, s.code limit %(most)s;

-- name: photos_of_sample
-- Small photographs of a sample's bottle, oldest first; a corrected row keeps those of the row it replaced.
with rows_of as (
    select d.log_id from draw d join sample s on s.id = d.sample_id where s.code = %(code)s)
select distinct on (p.taken_at, p.id) p.caption, coalesce(a.small, a.content) as content, a.media
from photo p join rows_of r on r.log_id = p.log_id join attachment a on a.sha256 = p.sha256
order by p.taken_at, p.id limit %(most)s;

-- name: laboratories_of_engine
-- Who analysed an engine's samples, in the order they began.
select r.laboratory, count(distinct l.id) as n, min(l.on_date) as first, max(l.on_date) as last
from report_in_effect r join draw d on d.sample_id = r.sample_id join log_now l on l.id = d.log_id
where l.engine_id = %(engine)s and r.laboratory <> '' group by r.laboratory order by min(l.on_date), r.laboratory;

-- name: small_photos_of_engine
-- The newest photographs of an engine as they are kept small; a corrected row keeps those of the row it replaced.
with recursive now_of as (
    select l.id as first, l.id, l.engine_id from log l where l.engine_id = %(engine)s
    union all select n.first, x.id, x.engine_id from now_of n join log x on x.replaces = n.id and not x.voided)
select p.caption, l.on_date, coalesce(a.small, a.content) as content, a.media
from photo p join now_of n on n.first = p.log_id join log_now l on l.id = n.id join attachment a on a.sha256 = p.sha256
where l.engine_id = %(engine)s order by p.taken_at desc, p.id limit %(most)s;

-- name: small_photos_of_logs
-- The newest photographs of some log rows as they are kept small.
select p.log_id, p.caption, coalesce(a.small, a.content) as content, a.media
from photo p join attachment a on a.sha256 = p.sha256
where p.log_id = any(%(logs)s) order by p.taken_at desc, p.id limit %(most)s;

-- name: outcome_of_case
-- What a closed case was.
select o.found from case_now k join outcome o on o.id = k.outcome_id where k.id = %(id)s and k.closed;
