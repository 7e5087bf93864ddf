-- name: decision_put
-- A decision; the unique keys refuse a second one on the same ground.
insert into decision (id, kind, engine_id, sample_id, report_id, supersedes, proposed, level, basis, run_state,
    until_dial, until_on, lifts, found, done, accepted, reason, note, decided_by, decided_at, source_id)
values (%(id)s, %(kind)s, %(engine_id)s, %(sample_id)s, %(report_id)s, %(supersedes)s, %(proposed)s, %(level)s,
    %(basis)s, %(run_state)s, %(until_dial)s, %(until_on)s, %(lifts)s, %(found)s, %(done)s, %(accepted)s, %(reason)s, %(note)s, %(decided_by)s,
    coalesce(%(decided_at)s, keen_now()), %(source)s);

-- name: decision_of_sample
-- The standing decision on a sample.
select id::text, kind, level, proposed, basis, reason, note, decided_by, decided_at from decision_now
where sample_id = %(sample)s;

-- name: decision_of_engine
-- The standing run decision of an engine.
select id::text, kind, run_state, until_dial, until_on, found, done, reason, note, decided_by, decided_at from decision_now
where engine_id = %(engine)s;

-- name: decisions_of_samples
-- Standing sign-offs of the given samples. One without a level, from before the gate, signed nothing.
select d.sample_id, s.code as sample, d.id::text, d.kind, d.level, coalesce(d.proposed, d.level) as proposed, d.basis,
    d.reason, d.note, d.decided_by, d.decided_at from decision_now d join sample s on s.id = d.sample_id
where d.sample_id = any(%(samples)s) and (d.kind <> 'sign_off' or d.level is not null);

-- name: run_decisions
-- Every run decision of the given engines, each after the one it supersedes.
with recursive chain as (
    select id, 0 as depth from decision where engine_id = any(%(engines)s) and supersedes is null
    union all select d.id, chain.depth + 1 from decision d join chain on d.supersedes = chain.id)
select d.engine_id, d.run_state, d.until_dial, d.until_on, d.lifts, d.found, d.done, d.reason, d.decided_by,
    day_there(d.engine_id, d.decided_at) as decided_on
from decision d join chain using (id) order by d.engine_id, chain.depth;

-- name: raised_stops
-- Every Stop that was ever raised on the given engines.
select engine_id, key, on_date, dial, sample, finding from raised_stop where engine_id = any(%(engines)s);

-- name: raised_stop_put
-- A Stop is raised once.
insert into raised_stop (engine_id, key, on_date, dial, sample, finding)
values (%(engine)s, %(key)s, %(on)s, %(dial)s, %(sample)s, %(finding)s) on conflict do nothing;

-- name: run_decisions_of
-- The standing run decision of each of the given engines.
select e.code as engine, d.id::text from engine e join decision_now d on d.engine_id = e.id where e.code = any(%(codes)s);

-- name: decision_trail
-- Every decision on an engine and its samples, newest first.
select d.id::text, d.kind, s.code as sample, d.proposed, d.level, d.run_state, d.until_dial, d.until_on, d.found,
    d.done, d.reason, d.note, d.decided_by, d.decided_at, d.supersedes::text, coalesce(f.imported_by, '') as imported_by
from decision d left join sample s on s.id = d.sample_id left join source f on f.id = d.source_id
where d.engine_id = %(engine)s or d.sample_id in (select w.sample_id from draw w join log_now l on l.id = w.log_id
    where l.engine_id = %(engine)s)
order by d.decided_at desc, d.id limit 200;

-- name: pending_amendments
-- Later revisions of a report that no person has accepted or refused.
select r.id, r.laboratory, r.number, r.revision, s.code as sample, b.oil, b.grade, b.batch, r.received_at
from report_kept r left join sample s on s.id = r.sample_id left join oil_batch b on b.id = r.oil_batch_id
where r.revision > 1 and exists (select 1 from report_kept p where p.laboratory = r.laboratory and p.number = r.number
        and p.revision < r.revision)
    and not exists (select 1 from decision_now d where d.report_id = r.id and d.kind = 'amendment')
order by r.received_at, r.id limit 500;

-- name: pending_amendments_count
-- How many of them wait.
select count(*) from report_kept r
where r.revision > 1 and exists (select 1 from report_kept p where p.laboratory = r.laboratory and p.number = r.number
        and p.revision < r.revision)
    and not exists (select 1 from decision_now d where d.report_id = r.id and d.kind = 'amendment');

-- name: readings_of_reports
-- Readings of the given reports, as stored.
select report_id, analyte, censor, value, reported, unit from reading where report_id = any(%(reports)s)
order by report_id, analyte;

-- name: reports_before
-- The revision that counts now of each of the given reports.
select r.laboratory, r.number, r.id from report_in_effect r
where (r.laboratory, r.number) in (select * from unnest(%(laboratories)s::text[], %(numbers)s::text[]));

-- name: decision_of_report
-- The standing answer to an amended report.
select id::text, kind, accepted from decision_now where report_id = %(report)s;

-- name: report_there
-- Whether there is a report of this key.
select 1 as there from report where id = %(report)s;

-- name: report_engine
-- The engine a report's sample belongs to, if it is of a sample.
select l.engine_id from report r join draw d on d.sample_id = r.sample_id join log_now l on l.id = d.log_id
where r.id = %(report)s;

-- name: first_people_of_stop
-- Who signed the given samples at Act or Stop, and who wrote down work on the engine since a day.
select d.decided_by as name, 'signed the verdict' as what from decision d join sample s on s.id = d.sample_id
where s.code = any(%(samples)s) and d.kind = 'sign_off' and d.level >= 2
union
select recorded_by, 'wrote down the work' from log
where engine_id = %(engine)s and kind in ('repair', 'rebuild') and on_date >= %(since)s and not voided;
