-- name: samples_known
-- What is on record for these sample codes: every log row the sample ever had, and whose row it is.
select s.code, s.id, l.id::text as log_id, l.source_id, l.source_row, e.code as engine, l.on_date, l.dial
from sample s left join draw d on d.sample_id = s.id left join log_kept l on l.id = d.log_id
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
from log_kept l left join event v on v.log_id = l.id join engine e on e.id = l.engine_id
where (l.engine_id = any(%(engines)s) and l.on_date = any(%(days)s) and v.log_id is not null) or l.id = any(%(ids)s::uuid[])
order by l.recorded_at, l.id;

-- name: reports_known
-- Every revision of the given reports, and which of them were taken back.
select laboratory, number, revision, content_hash, id, source_id, sample_id, oil_batch_id,
    exists (select 1 from taken_back t where t.source_id = report.source_id) as gone from report
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
insert into source (sha256, kind, name, bytes, imported_by, together)
values (%(sha256)s, %(kind)s, %(name)s, %(bytes)s, %(by)s, %(together)s) returning id;

-- name: sources
-- Files brought in, newest first; files that came in together have one number.
select s.id, coalesce(s.together, s.id) as together, s.name, s.kind,
    s.bytes, s.imported_at, s.imported_by, left(s.sha256, 12) as mark, t.taken_by, t.taken_at, coalesce(t.reason, '') as reason
from source s left join taken_back t on t.source_id = s.id order by s.id desc limit 30;

-- name: sources_of_import
-- The files that came in together with a file, and whether they were taken back.
select s.id, s.name, s.kind, s.imported_at, s.imported_by, exists (select 1 from taken_back t where t.source_id = s.id) as gone
from source s join source x on coalesce(s.together, s.id) = coalesce(x.together, x.id)
where x.id = %(source)s order by s.id;

-- name: import_counts
-- What stands on record of some files: rows of the log by kind, reports and figures, and the engines they are of.
select (select count(*) from log_now l where l.source_id = any(%(sources)s) and l.kind = 'sample') as samples,
    (select count(*) from log_now l where l.source_id = any(%(sources)s) and l.kind = 'look') as looks,
    (select count(*) from log_now l where l.source_id = any(%(sources)s) and l.kind not in ('sample', 'look')) as events,
    (select count(*) from report r where r.source_id = any(%(sources)s)) as reports,
    (select count(*) from reading x join report r on r.id = x.report_id where r.source_id = any(%(sources)s)) as figures;

-- name: engines_of_import
-- The engines whose log or figures came from some files.
select l.engine_id as id, e.code from log l join engine e on e.id = l.engine_id where l.source_id = any(%(sources)s)
union
select l.engine_id, e.code from report r join draw d on d.sample_id = r.sample_id join log_now l on l.id = d.log_id
join engine e on e.id = l.engine_id where r.source_id = any(%(sources)s) order by code;

-- name: import_rests
-- What people did since with what came from some files, as (what, name, by, on): it is in the way of taking it back.
with of_import as (
    select d.sample_id from draw d join log l on l.id = d.log_id where l.source_id = any(%(sources)s)
    union select r.sample_id from report r where r.source_id = any(%(sources)s) and r.sample_id is not null)
select 'signed' as what, s.code as name, d.decided_by as "by", d.decided_at::date as "on"
from decision_now d join of_import o on o.sample_id = d.sample_id join sample s on s.id = d.sample_id
union all
select 'answered', concat_ws(' ', nullif(r.laboratory, ''), r.number), d.decided_by, d.decided_at::date
from decision_now d join report r on r.id = d.report_id where r.source_id = any(%(sources)s)
union all
select 'decided', e.code, d.decided_by, d.decided_at::date
from decision d join engine e on e.id = d.engine_id
where d.kind = 'run' and d.engine_id = any(%(engines)s) and d.decided_at >= %(since)s
union all
select 'corrected', e.code, l.recorded_by, l.recorded_at::date
from log l join log old on old.id = l.replaces join engine e on e.id = l.engine_id
where old.source_id = any(%(sources)s)
union all
select 'revised', concat_ws(' ', nullif(r.laboratory, ''), r.number), '', r.received_at::date
from report_kept r join report old on old.laboratory = r.laboratory and old.number = r.number and old.revision < r.revision
where old.source_id = any(%(sources)s) and not coalesce(r.source_id, 0) = any(%(sources)s)
union all
select 'case', k.name, k.opened_by, k.opened_at::date from engine_case k join of_import o on o.sample_id = k.sample_id
order by what, name limit 20;

-- name: import_void
-- Take back every row of the log that stands from some files, each by a row in its place.
insert into log (id, engine_id, on_date, at_time, seq, dial, kind, replaces, voided, recorded_by, reason)
select gen_random_uuid(), l.engine_id, l.on_date, l.at_time, l.seq, l.dial, l.kind, l.id, true, %(by)s, %(reason)s
from log_now l where l.source_id = any(%(sources)s);

-- name: import_gone
-- That some files were taken back, by whom and why.
insert into taken_back (source_id, taken_by, reason) select unnest(%(sources)s::int[]), %(by)s, %(reason)s;

-- name: log_row_kept
-- Whether a row of the log of this identity is on record.
select id from log_kept where id = %(id)s;

-- name: log_ids
-- Which of these identities the log has had.
select id from log where id = any(%(ids)s);

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
select id from report_kept where laboratory = %(laboratory)s and number = %(number)s and revision = %(revision)s;

-- name: sample_id
-- A sample by its code.
select id from sample where code = %(code)s;

-- name: limits_named
-- A version of limits by its name.
select id from limits_version where name = %(name)s;

-- name: engines_of_samples
-- The engine each of the given samples belongs to now, and what it burns.
select d.sample_id, l.engine_id, e.fuel from draw d join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id
    where d.sample_id = any(%(samples)s);

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

-- name: oil_names
-- The oils on record: those with a batch, and those engines are filled with.
select oil from oil_batch union select oil from engine where oil <> '' order by oil limit 200;
