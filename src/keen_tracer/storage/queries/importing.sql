-- name: samples_known
-- What is on record for these sample codes: every log row the sample ever had, and whose row it is.
select s.code, s.id, l.id::text as log_id, l.source_id, l.source_row, e.code as engine, l.on_date, l.dial
from sample s left join draw d on d.sample_id = s.id left join log l on l.id = d.log_id
left join engine e on e.id = l.engine_id where s.code = any(%(codes)s) order by l.recorded_at;

-- name: one_import
-- Two imports of nearly the same files at once come one after the other.
select pg_advisory_xact_lock(7316002);

-- name: events_on_record
-- What stands, or ever stood, in the log of some engines on some days; whether an engine was released on that day or
-- an earlier one after the row was written.
select l.id::text, l.source_id, l.source_row, e.code as engine, l.on_date, l.at_time, l.seq, l.dial, l.kind, v.dial_new,
    v.litres_in, v.litres_drained, v.oil, v.grade, v.batch, v.part, v.note, v.details,
    exists (select 1 from decision d where d.engine_id = l.engine_id and d.run_state = 'release'
        and d.decided_at >= l.recorded_at and day_there(l.engine_id, d.decided_at) <= l.on_date) as released
from log l left join event v on v.log_id = l.id join engine e on e.id = l.engine_id
where (l.engine_id = any(%(engines)s) and l.on_date = any(%(days)s) and v.log_id is not null) or l.id = any(%(ids)s::uuid[])
order by l.recorded_at, l.id;

-- name: reports_known
-- Every revision of the given reports.
select laboratory, number, revision, content_hash, id, source_id, sample_id, oil_batch_id from report
where (laboratory, number) in (select * from unnest(%(laboratories)s::text[], %(numbers)s::text[]))
order by revision;

-- name: falling_dials
-- Engines whose dial falls somewhere, among those this import touched: candidates for the time line to look at.
select distinct engine_id from (
    select engine_id, dial, max(dial) over (partition by engine_id order by on_date, at_time nulls last, seq
        rows between unbounded preceding and 1 preceding) as highest
    from log_now where engine_id = any(%(engines)s) and dial is not null) x
where dial < highest;

-- name: source_put
-- A file that was imported.
insert into source (sha256, kind, name, bytes, imported_by) values (%(sha256)s, %(kind)s, %(name)s, %(bytes)s, %(by)s)
returning id;

-- name: sources
-- Files brought in, newest first.
select name, kind, bytes, imported_at, imported_by, left(sha256, 12) as mark from source order by id desc limit 30;

-- name: source_rows
-- The row of the file each of the given log rows came from.
select l.id::text, l.source_row, s.name from log l left join source s on s.id = l.source_id
where l.id = any(%(ids)s::uuid[]);

-- name: batch_put
-- A batch of oil.
insert into oil_batch (oil, grade, batch, reference_on) values (%(oil)s, %(grade)s, %(batch)s, %(on)s) returning id;

-- name: batch_get
-- A batch of oil by its names.
select id, reference_on from oil_batch where oil = %(oil)s and grade = %(grade)s and batch = %(batch)s;

-- name: decision_known
-- A decision by its identity, with the names it is exported by.
select d.id::text, d.kind, d.decided_by, d.reason, d.level, d.run_state from decision d where d.id = %(id)s;

-- name: decision_standing
-- The standing decision on one engine, sample or report.
select id, kind from decision_now
where engine_id = %(engine)s or sample_id = %(sample)s or report_id = %(report)s;

-- name: sample_engine
-- The engine a sample was drawn from.
select l.engine_id from draw d join log_now l on l.id = d.log_id where d.sample_id = %(sample)s;

-- name: report_id
-- One revision of a report.
select id from report where laboratory = %(laboratory)s and number = %(number)s and revision = %(revision)s;

-- name: sample_id
-- A sample by its code.
select id from sample where code = %(code)s;

-- name: limits_named
-- A version of limits by its name.
select id from limits_version where name = %(name)s;

-- name: engines_of_samples
-- The engine each of the given samples belongs to now.
select d.sample_id, l.engine_id from draw d join log_now l on l.id = d.log_id where d.sample_id = any(%(samples)s);

-- name: may_stop
-- Engines of which files brought something that may stop them: the row of the log to ask, none where a figure or a
-- bottle says it by itself. Only the engines the files touched are looked through.
select l.engine_id, l.id::text as log from log l where l.engine_id = any(%(engines)s) and l.source_id = any(%(sources)s)
    and l.kind in ('symptom', 'failure', 'overheating', 'field_check', 'finding', 'look', 'coolant_top_up', 'top_up')
union
select l.engine_id, null from log l join draw d on d.log_id = l.id where l.engine_id = any(%(engines)s)
    and l.source_id = any(%(sources)s) and d.appearance = any(%(looks)s)
union
select l.engine_id, null from log_now l join draw d on d.log_id = l.id join report r on r.sample_id = d.sample_id
    join reading x on x.report_id = r.id where l.engine_id = any(%(engines)s) and r.source_id = any(%(sources)s)
    and ((x.analyte = %(water)s and x.value >= %(water_stop)s and x.censor <> 1)
        or (x.analyte = %(glycol)s and (x.censor = %(positive)s or (x.value > 0 and x.censor in (0, 2)))))
union
select l.engine_id, null from log_now l join draw d on d.log_id = l.id join report r on r.sample_id = d.sample_id
    join reading x on x.report_id = r.id where l.engine_id = any(%(engines)s) and r.source_id = any(%(sources)s)
    and x.analyte = any(%(fuels)s) and x.censor in (0, 2) group by l.engine_id, r.id having sum(x.value) >= %(fuel_stop)s;
