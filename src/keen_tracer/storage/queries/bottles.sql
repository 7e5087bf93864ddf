-- name: bottle_step_put
-- One step of a bottle's way.
insert into bottle_step (id, sample_id, step, on_date, laboratory, note, recorded_by, recorded_at)
values (%(id)s, %(sample)s, %(step)s, %(on)s, %(laboratory)s, %(note)s, %(by)s, coalesce(%(at)s, keen_clock()))
on conflict (id) do nothing;

-- name: bottles_by_code
-- Bottles by their codes: where they are on record, whether figures are in.
select s.id, s.code, n.step, exists (select 1 from report_kept r where r.sample_id = s.id) as figures,
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
where not exists (select 1 from report_kept r where r.sample_id = s.id) and l.on_date >= %(since)s
    and not (coalesce(n.step, '') in ('lost', 'broken') and n.on_date < %(today)s - 30)
union all
select s.code, null, null, null, b.on_date, 'reference', '', n.step, n.on_date, n.laboratory,
    (select min(x.on_date) from bottle_step x where x.sample_id = s.id and x.step = 'sent'),
    concat_ws(' ', o.oil, nullif(o.grade, ''), nullif(o.batch, ''))
from reference_bottle b join sample s on s.id = b.sample_id join oil_batch o on o.id = b.oil_batch_id
left join bottle_now n on n.sample_id = s.id
where not exists (select 1 from report_kept r where r.oil_batch_id = o.id) order by drawn_on, sample;

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
from draw d join log_now l on l.id = d.log_id join report_kept r on r.sample_id = d.sample_id
where l.on_date >= %(since)s group by r.laboratory, d.received_on, d.sample_id, l.on_date;

-- name: report_analytes
-- How many of a laboratory's reports of the last half year have each analyte.
with recent as (select r.id, r.laboratory from report_kept r join draw d on d.sample_id = r.sample_id
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
select laboratory from report_kept where laboratory not in ('', '(fresh oil)') group by laboratory order by count(*) desc, 1;

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
    and (exists (select 1 from report_kept r where r.oil_batch_id = b.id)
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
select * from lab_order where returned_at is null and due_at <= %(now)s order by due_at, id
limit 1 for update skip locked;

-- name: order_done
-- An order was answered.
update lab_order set returned_at = keen_now(), outcome = %(outcome)s where id = %(id)s;

-- name: orders
-- Orders of the simulated laboratory, newest first.
select id::text, samples, mischief, due_at, made_at, made_by, returned_at, outcome from lab_order
order by made_at desc limit 20;

-- name: oils_known
-- Batches of oil, newest first, with how many fresh figures each has and how often it was filled in.
select b.oil, b.grade, b.batch, coalesce(b.reference_on, (select min(r.analysed_on) from report_in_effect r
    where r.oil_batch_id = b.id)) as reference_on,
    (select count(*) from reading x join report_in_effect r on r.id = x.report_id where r.oil_batch_id = b.id) as readings,
    (select count(*) from event v where v.oil = b.oil and v.grade = b.grade and v.batch = b.batch) as fills
from oil_batch b order by b.oil, b.grade, b.batch desc;

-- name: stray_count
-- How many bottles found no place: figures without a bottle, bottles without an engine. Only samples without a draw, or
-- with a draw that was put right or taken back, can be such; they are few.
select (select count(*) from (
            select u.sample_id as id from undrawn u
            union select d.sample_id from draw d where d.log_id in (select replaces from log where replaces is not null)
        ) few where exists (select 1 from report_in_effect r where r.sample_id = few.id)
        and not exists (select 1 from draw d join log_now l on l.id = d.log_id where d.sample_id = few.id)
        and not exists (select 1 from bottle_now n where n.sample_id = few.id and n.step in ('lost', 'broken')))
    + (select count(*) from parked p where not exists (select 1 from log l where l.id = p.id)
        and not exists (select 1 from bottle_now n where n.sample_id = p.sample_id and n.step in ('lost', 'broken')));
