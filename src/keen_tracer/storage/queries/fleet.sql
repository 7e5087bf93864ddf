-- name: engines_of
-- The engines with the given ids, with what they inherit from their model.
select e.id, e.code, e.name, e.depot, coalesce(e.model, '') as model, e.class as engine_class, e.meter_unit,
    coalesce(e.sump_l, m.sump_l) as sump_l, coalesce(e.oil_total_l, m.oil_total_l) as oil_total_l,
    e.carry_over_frac, case when e.allowed_grades = '{}' then coalesce(m.allowed_grades, '{}')
    else e.allowed_grades end as allowed_grades, e.oil, e.fuel, 
    case when e.features = '{}' then coalesce(m.features, '{}') else e.features end as features,
    e.in_service_on, e.interval_meter, e.interval_days, e.nominal_drain_meter, e.nominal_drain_days, e.sampling_method, e.coolant,
    coalesce(m.bearing_type, '') as bearing_type, coalesce(nullif(e.layout, ''), m.layout, '') as layout, e.serial_number,
    coalesce(m.part_materials, '') as part_materials,
    coalesce(e.dipstick_to_low_mm, m.dipstick_to_low_mm) as dipstick_to_low_mm, m.between_marks_l, e.row_version,
    coalesce(m.test_limits, '{}') as test_limits, coalesce(m.known_faults, '') as faults_of_model,
    array(select distinct o.found from engine x join outcome o on o.engine_id = x.id
        where x.model = e.model and x.id <> e.id and o.confirmed = 'yes' and o.found <> 'nothing' order by 1) as earlier,
    (select json_agg(json_build_array(d.cause, d.effect, d.kept) order by d.decided_at, d.id) from damage_link d
        where d.engine_id = e.id) as links
from engine e left join model m on m.code = e.model
where e.id = any(%(ids)s) order by e.id;

-- name: log_of_engines
-- Every current log row of the given engines, with its event or its drawn sample; a bottle that was lost is an event.
select l.engine_id, l.id::text, l.on_date, l.at_time, l.seq, l.dial,
    case when gone.step is null then l.kind else 'bottle_' || gone.step end, v.dial_new, v.litres_in,
    v.litres_drained, v.oil, v.grade, v.batch, v.part, coalesce(v.note, case when gone.step is not null then s.code end),
    case when gone.step is null then d.sample_id end, s.code, d.purpose, d.resample_of,
    d.oil_change_dial, d.oil, d.method, d.oil_changed_after, d.top_up_l, d.laboratory, d.appearance,
    d.smell, d.level_on_stick, d.hours_on_oil, v.details
from log_now l left join event v on v.log_id = l.id left join draw d on d.log_id = l.id
    left join sample s on s.id = d.sample_id
    left join bottle_now gone on gone.sample_id = d.sample_id and gone.step in ('lost', 'broken')
where l.engine_id = any(%(ids)s);

-- name: sample_reports
-- Laboratory and test methods of the given samples, from the first report that counts.
select distinct on (r.sample_id) r.sample_id, r.laboratory,
    coalesce((select min(method) from reading where report_id = r.id and analyte = any(%(wear)s)), '') as method,
    coalesce((select min(method) from reading where report_id = r.id and analyte = %(glycol)s), '') as glycol,
    r.analysed_on
from report_in_effect r where r.sample_id = any(%(samples)s) order by r.sample_id, r.id;

-- name: readings_as_arrays
-- Readings that count, of the given samples, as four arrays in PostgreSQL's own format; first report last, so that it
-- wins. Reports are chosen first and readings found by key, however few statistics there are of either.
with chosen as materialized (select id, sample_id from report_in_effect where sample_id = any(%(samples)s))
select array_send(array_agg(sample_id)), array_send(array_agg(analyte)), array_send(array_agg(value)),
    array_send(array_agg(censor))
from (select r.sample_id, x.analyte, coalesce(x.value, 'NaN'::float8) as value, x.censor
    from chosen r cross join lateral (
        select analyte, value, censor from reading where report_id = r.id offset 0) x
    order by r.id desc) found;

-- name: fresh_readings
-- Fresh-oil references that count; the few reports of batches are found first, however many of samples there are.
with chosen as materialized (select r.id, r.oil_batch_id from report_in_effect r where r.oil_batch_id is not null)
select b.oil, b.grade, b.batch, x.analyte, x.value, x.censor
from chosen r join oil_batch b on b.id = r.oil_batch_id cross join lateral (
    select analyte, value, censor from reading where report_id = r.id and value is not null offset 0) x
order by r.id;

-- name: engine_ids
-- Ids of every engine that can be judged, or of those of them with the given codes: nobody learns from the others.
select id from engine e where (%(codes)s::text[] is null or code = any(%(codes)s))
and not exists (select 1 from unjudged u where u.engine_id = e.id) order by id;

-- name: engine_by_code
-- The id of one engine.
select id from engine where code = %(code)s;

-- name: depot_of_engine
-- Where one engine stands, by its code or its id.
select depot from engine where code = %(code)s or id = %(id)s;

-- name: engine_of_sample
-- The engine a sample belongs to now.
select l.engine_id, s.id as sample_id from sample s join draw d on d.sample_id = s.id
join log_now l on l.id = d.log_id where s.code = %(code)s;

-- name: samples_per_engine
-- How many samples each of the given engines has, to size the batches.
select l.engine_id, count(*) from log_now l where l.kind = 'sample' and l.engine_id = any(%(ids)s) group by 1;

-- name: count_engines
-- How many engines there are.
select count(*) from engine;

-- name: depot_codes
-- Depots in walking order.
select code from depot order by walking_order nulls last, code;

-- name: coolant_markers
-- Sodium, potassium, boron and silicon of every coolant.
select code, na_mg_kg, k_mg_kg, b_mg_kg, si_mg_kg from coolant;

-- name: looks_of_engines
-- Looks for debris of the given engines.
select l.id::text, k.place, k.tool, coalesce(k.area_cm2, k.pleats), coalesce(k.area_total_cm2, k.pleats_total), k.both_sides, k.hours
from look k join log_now l on l.id = k.log_id
where l.engine_id = any(%(ids)s);

-- name: look_counts
-- What those looks found.
select l.id::text, n.type, n.size_class, n.count, n.amount from look_count n join log_now l on l.id = n.log_id
where l.engine_id = any(%(ids)s) order by l.id, n.type, n.size_class;

-- name: confirmed_faults
-- Days on which an inspection confirmed a fault.
select engine_id, on_date from outcome where engine_id = any(%(ids)s) and confirmed = 'yes' and found <> 'nothing'
order by engine_id, on_date;

-- name: lines_of_looks
-- Lines on photographs of looks that nobody took back, in the order drawn.
select l.id::text, n.photo_id::text, n.kind, n.type, n.x1, n.y1, n.x2, n.y2, n.known_mm, n.known_sd_mm
from picture_line n join photo p on p.id = n.photo_id join log_now l on l.id = p.log_id join look k on k.log_id = l.id
where l.engine_id = any(%(ids)s) and n.kind <> 'withdraw'
    and not exists (select 1 from picture_line w where w.withdraws = n.id)
order by n.drawn_at, n.id;

-- name: case_steps
-- Steps of leak isolations that nobody took back: what they found is a fact of the engine.
select k.engine_id, n.id::text, n.on_date, n.said, n.words from case_entry n join engine_case k on k.id = n.case_id
where k.engine_id = any(%(ids)s) and n.kind = 'step'
    and not exists (select 1 from case_entry w where w.withdraws = n.id)
order by n.seq;
