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
-- The highest whole number among the newest bottles' codes and the labels printed so far.
select greatest((select max(code::bigint) from (select code from sample where code ~ '^[0-9]{1,15}$'
    order by id desc limit 500) x), (select max(first + pieces - 1) from label_run));

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
where r.printed_at > now() - interval '60 days' and not exists (select 1 from sample s where s.code = n::text)
order by r.id, n;

-- name: log_engine_of
-- The engine a current log row belongs to.
select e.code from log_now l join engine e on e.id = l.engine_id where l.id = %(id)s;

-- name: attachment_put
-- A photograph by what it holds.
insert into attachment (sha256, media, width, height, content)
values (%(sha256)s, %(media)s, %(width)s, %(height)s, %(content)s) on conflict (sha256) do nothing;

-- name: attachment
-- One photograph.
select media, content from attachment where sha256 = %(sha256)s;

-- name: photo_put
-- A photograph of something in the log.
insert into photo (id, log_id, sha256, caption, taken_by) values (%(id)s, %(log)s, %(sha256)s, %(caption)s, %(by)s)
on conflict (id) do nothing;

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
select l.id as log_id, l.engine_id, l.on_date, l.at_time, l.seq, l.dial, s.id as sample_id, e.code as engine
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

-- name: bottle_step_put
-- One step of a bottle's way.
insert into bottle_step (id, sample_id, step, on_date, laboratory, note, recorded_by, recorded_at)
values (%(id)s, %(sample)s, %(step)s, %(on)s, %(laboratory)s, %(note)s, %(by)s, coalesce(%(at)s, clock_timestamp()))
on conflict (id) do nothing;

-- name: bottles_by_code
-- Bottles by their codes: where they are on record, whether figures are in.
select s.id, s.code, n.step, exists (select 1 from report r where r.sample_id = s.id) as figures,
    exists (select 1 from draw d join log_now l on l.id = d.log_id where d.sample_id = s.id) as registered,
    exists (select 1 from reference_bottle b where b.sample_id = s.id) as reference
from sample s left join bottle_now n on n.sample_id = s.id where s.code = any(%(codes)s);

-- name: bottles_out
-- Registered bottles without figures, and where each is; a lost or broken one stays for 30 days.
select s.code as sample, e.code as engine, e.depot, l.id::text as log, l.on_date as drawn_on, d.purpose,
    d.resample_of, n.step, n.on_date as step_on, n.laboratory,
    (select min(b.on_date) from bottle_step b where b.sample_id = s.id and b.step = 'sent') as sent_on, null::text as oil
from log_now l join draw d on d.log_id = l.id join sample s on s.id = d.sample_id
join engine e on e.id = l.engine_id left join bottle_now n on n.sample_id = s.id
where not exists (select 1 from report r where r.sample_id = s.id) and l.on_date >= %(since)s
    and not (coalesce(n.step, '') in ('lost', 'broken') and n.on_date < %(today)s - 30)
union all
select s.code, null, null, null, b.on_date, 'reference', '', n.step, n.on_date, n.laboratory,
    (select min(x.on_date) from bottle_step x where x.sample_id = s.id and x.step = 'sent'),
    concat_ws(' ', o.oil, nullif(o.grade, ''), nullif(o.batch, ''))
from reference_bottle b join sample s on s.id = b.sample_id join oil_batch o on o.id = b.oil_batch_id
left join bottle_now n on n.sample_id = s.id
where not exists (select 1 from report r where r.oil_batch_id = o.id) order by drawn_on, sample;

-- name: unmatched
-- Bottles with figures that belong to no engine and no batch.
select s.code as sample, r.laboratory, r.number as report, r.analysed_on, r.received_at::date as received_on,
    (select count(*) from reading x where x.report_id = r.id) as readings
from sample s join report_in_effect r on r.sample_id = s.id
where not exists (select 1 from draw d join log_now l on l.id = d.log_id where d.sample_id = s.id)
    and not exists (select 1 from bottle_now n where n.sample_id = s.id and n.step in ('lost', 'broken'))
order by r.received_at, s.code;

-- name: parked_open
-- Bottles of engines that were not on record, not sorted out yet.
select p.id::text, s.code as sample, p.engine_said, p.on_date, p.body, p.recorded_by, p.recorded_at::date as recorded_on
from parked p join sample s on s.id = p.sample_id
where not exists (select 1 from log l where l.id = p.id)
    and not exists (select 1 from bottle_now n where n.sample_id = s.id and n.step in ('lost', 'broken'))
order by p.recorded_at;

-- name: parked_one
-- One parked bottle.
select p.id::text, s.code as sample, p.engine_said, p.body from parked p join sample s on s.id = p.sample_id
where p.id = %(id)s;

-- name: turnarounds
-- Days from sent (else drawn) to the first report, per laboratory, of the last half year's bottles.
select r.laboratory, (coalesce(d.received_on, min(r.received_at)::date)
    - coalesce((select min(b.on_date) from bottle_step b where b.sample_id = d.sample_id and b.step = 'sent'), l.on_date))
    as days
from draw d join log_now l on l.id = d.log_id join report r on r.sample_id = d.sample_id
where l.on_date >= %(since)s group by r.laboratory, d.received_on, d.sample_id, l.on_date;

-- name: report_analytes
-- How many of a laboratory's reports of the last half year have each analyte.
with recent as (select r.id, r.laboratory from report r join draw d on d.sample_id = r.sample_id
    join log_now l on l.id = d.log_id where l.on_date >= %(since)s)
select recent.laboratory, x.analyte, count(*) as n from recent join reading x on x.report_id = recent.id group by 1, 2
union all select laboratory, null, count(*) from recent group by 1;

-- name: reports_lately
-- Reports that came in lately, with the analytes each has: which of them are only part of one is for the core to say.
select s.code as sample, e.code as engine, r.laboratory, l.on_date as drawn_on, r.received_at::date as received_on,
    array_agg(x.analyte) as analytes
from report_in_effect r join sample s on s.id = r.sample_id join draw d on d.sample_id = s.id
join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id join reading x on x.report_id = r.id
where l.on_date >= %(since)s group by 1, 2, 3, 4, 5 order by l.on_date, s.code;

-- name: laboratories
-- Laboratories that have reported, most used first.
select laboratory from report where laboratory not in ('', '(fresh oil)') group by laboratory order by count(*) desc, 1;

-- name: batch_by_names
-- A batch of oil by its names, known or not.
select id from oil_batch where oil = %(oil)s and grade = %(grade)s and batch = %(batch)s;

-- name: reference_put
-- A bottle of fresh oil.
insert into reference_bottle (id, sample_id, oil_batch_id, on_date, recorded_by)
values (%(id)s, %(sample)s, %(batch)s, %(on)s, %(by)s);

-- name: reference_known
-- A bottle of fresh oil that is registered already.
select 1 as there from reference_bottle where id = %(id)s;

-- name: batches_without_reference
-- Batches filled in lately of which nobody knows the fresh figures and no bottle is under way.
select v.oil, v.grade, v.batch, min(l.on_date) as first_used, count(*) as fills
from event v join log_now l on l.id = v.log_id
where v.oil <> '' and v.batch <> '' and l.on_date >= %(since)s and l.kind in ('oil_change', 'top_up', 'rebuild')
and not exists (select 1 from oil_batch b where b.oil = v.oil and b.grade = v.grade and b.batch = v.batch
    and (exists (select 1 from report r where r.oil_batch_id = b.id)
         or exists (select 1 from reference_bottle x where x.oil_batch_id = b.id
            and not exists (select 1 from bottle_now n where n.sample_id = x.sample_id and n.step in ('lost', 'broken')))))
group by 1, 2, 3 order by 4;

-- name: reference_samples
-- Which of the given samples are fresh oil, and of which batch.
select sample_id, oil_batch_id from reference_bottle where sample_id = any(%(samples)s);

-- name: parked_put
-- A bottle of an engine that is not on record.
insert into parked (id, sample_id, engine_said, on_date, body, recorded_by)
values (%(id)s, %(sample)s, %(engine)s, %(on)s, %(body)s, %(by)s) on conflict (id) do nothing;

-- name: report_copy
-- A report again as its next revision, now of another sample.
insert into report (laboratory, number, revision, sample_id, analysed_on, content_hash, source_id)
select r.laboratory, r.number, (select max(x.revision) from report x where x.laboratory = r.laboratory
    and x.number = r.number) + 1, %(sample)s, r.analysed_on, r.content_hash, r.source_id
from report r where r.id = %(report)s returning id;

-- name: readings_copy
-- All readings of a report, for the copy.
insert into reading (report_id, analyte, censor, value, reported, unit, method)
select %(copy)s, analyte, censor, value, reported, unit, method from reading where report_id = %(report)s;

-- name: reports_of_sample
-- Reports of a sample that count.
select id, number from report_in_effect where sample_id = %(sample)s order by id;

-- name: query_answer_put
-- What a person said to a query.
insert into answer (id, engine_id, query, code, said, numbers, reason, answered_by, answered_at)
values (%(id)s, %(engine)s, %(query)s, %(code)s, %(said)s, %(numbers)s, %(reason)s, %(by)s, coalesce(%(at)s, clock_timestamp()))
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
where %(engine)s::text is null or e.code = %(engine)s order by q.on_date desc nulls last, e.code, q.key;

-- name: query_one
-- One query that waits.
select e.id as engine_id, q.key, q.code, q.sample, q.log::text as log, q.on_date, q.numbers from query q join engine e on e.id = q.engine_id
where e.code = %(engine)s and q.key = %(key)s;

-- name: answers_of_engine
-- What was said to the queries of one engine, newest first.
select a.query as key, a.code, a.said, a.numbers, a.reason, a.answered_by as "by", a.answered_at as at
from answer a join engine e on e.id = a.engine_id where e.code = %(engine)s order by a.answered_at desc;

-- name: last_reported
-- What the newest report of an engine holds.
select r.laboratory, x.analyte from reading x join (
    select r.id, r.laboratory from report_in_effect r join draw d on d.sample_id = r.sample_id
    join log_now l on l.id = d.log_id where l.engine_id = %(engine)s order by l.on_date desc, r.id desc limit 1) r
on r.id = x.report_id order by x.analyte;

-- name: order_known
-- An order of the simulated laboratory.
select 1 as there from lab_order where id = %(id)s;

-- name: order_put
-- Bottles given to the simulated laboratory.
insert into lab_order (id, laboratory, samples, mischief, seed, due_at, made_by)
values (%(id)s, %(laboratory)s, %(samples)s, %(mischief)s, %(seed)s, %(due)s, %(by)s);

-- name: order_due
-- The next order whose answer is due, held while it is answered.
select * from lab_order where returned_at is null and due_at <= now() order by due_at, id
limit 1 for update skip locked;

-- name: order_done
-- An order was answered.
update lab_order set returned_at = now(), outcome = %(outcome)s where id = %(id)s;

-- name: orders
-- Orders of the simulated laboratory, newest first.
select id::text, samples, mischief, due_at, made_at, made_by, returned_at, outcome from lab_order
order by made_at desc limit 20;

-- name: model_codes
-- Models.
select code from model order by code;

-- name: engine_codes
-- Engines.
select code from engine order by code;

-- name: coolant_codes
-- Coolants.
select code from coolant order by code;

-- name: oils_known
-- Batches of oil, newest first, with how many fresh figures each has and how often it was filled in.
select b.oil, b.grade, b.batch, coalesce(b.reference_on, (select min(r.analysed_on) from report_in_effect r
    where r.oil_batch_id = b.id)) as reference_on,
    (select count(*) from reading x join report_in_effect r on r.id = x.report_id where r.oil_batch_id = b.id) as readings,
    (select count(*) from event v where v.oil = b.oil and v.grade = b.grade and v.batch = b.batch) as fills
from oil_batch b order by b.oil, b.grade, b.batch desc;

-- name: samples_with_queries
-- Samples about which something is asked and not answered.
select distinct sample from query where sample <> '';

-- name: queries_count
-- How many queries wait for an answer.
select count(*) from query;

-- name: stray_count
-- How many bottles found no place: figures without a bottle, bottles without an engine.
select (select count(*) from sample s where exists (select 1 from report_in_effect r where r.sample_id = s.id)
        and not exists (select 1 from draw d join log_now l on l.id = d.log_id where d.sample_id = s.id)
        and not exists (select 1 from bottle_now n where n.sample_id = s.id and n.step in ('lost', 'broken')))
    + (select count(*) from parked p where not exists (select 1 from log l where l.id = p.id)
        and not exists (select 1 from bottle_now n where n.sample_id = p.sample_id and n.step in ('lost', 'broken')));

-- name: log_rows_of_engine
-- Everything current in one engine's log with its own words, newest first.
select l.id::text, l.kind, l.on_date, l.at_time, l.dial, l.recorded_by, l.recorded_at::date as recorded_on,
    l.replaces is not null as corrected, s.code as sample, d.purpose, d.method, d.oil_change_dial,
    d.oil_changed_after, d.top_up_l, d.appearance, d.smell, d.level_on_stick, v.dial_new, v.litres_in,
    v.litres_drained, coalesce(v.oil, d.oil, '') as oil, coalesce(v.grade, '') as grade, coalesce(v.batch, '') as batch,
    coalesce(v.part, '') as part, coalesce(v.note, d.note, '') as note, coalesce(v.details, '{}') as details,
    coalesce(n.step, '') as step, exists (select 1 from report r where r.sample_id = d.sample_id) as figures
from log_now l left join event v on v.log_id = l.id left join draw d on d.log_id = l.id
left join sample s on s.id = d.sample_id left join bottle_now n on n.sample_id = d.sample_id
where l.engine_id = %(engine)s order by l.on_date desc, l.at_time desc nulls first, l.seq desc, l.recorded_at desc
limit %(limit)s;

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
