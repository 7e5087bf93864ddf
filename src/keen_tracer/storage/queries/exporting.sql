-- name: export_depots
-- depots.csv
select code, name, time_zone, walking_order, daily_capacity from depot order by code;

-- name: export_models
-- models.csv
select code, class, oil_total_l, sump_l, allowed_grades, layout, bearing_type, part_materials, sampling_point,
    between_marks_l, features, dipstick_to_low_mm, nullif(test_limits, '{}'), failure_cost, nullif(known_faults, '') from model order by code;

-- name: export_plans
-- plans.csv
select e.code, p.kind, p.every, p.method, nullif(p.said, '') from plan p join engine e on e.id = p.engine_id order by e.code, p.kind;

-- name: export_engines
-- engines.csv
select code, name, depot, model, class, meter_unit, sump_l, oil_total_l, carry_over_frac, allowed_grades, oil, fuel,
    coolant, in_service_on, sampling_method, interval_meter, interval_days, nominal_drain_meter,
    nominal_drain_days, dipstick_to_low_mm, failure_cost, nullif(serial_number, ''), nullif(layout, ''), features
    from engine order by code;

-- name: export_limits
-- limits.csv, every published version
select r.scope, r.scope_name, r.analyte, r.basis, r.watch, r.act, r.unit, r.origin, v.name
from limit_row r join limits_version v on v.id = r.version_id order by v.id, r.n;

-- name: export_events
-- events.csv
select e.code, l.on_date, l.at_time, l.seq, l.dial, v.dial_new, l.kind, v.litres_in, v.litres_drained, v.oil, v.grade,
    v.batch, v.part, v.note, nullif(v.details, '{}') as details, l.typed, l.id::text
from log_now l join event v on v.log_id = l.id join engine e on e.id = l.engine_id
order by e.code, l.on_date, l.at_time nulls last, l.seq, l.dial nulls first, l.kind, v.part, v.details::text, v.note, l.id;

-- name: export_samples
-- samples.csv, the facts of the draw; the figures stand in readings.csv
select s.code, e.code, l.on_date, l.dial, l.at_time, d.oil_change_dial, d.oil, d.method, d.purpose, d.resample_of,
    d.oil_changed_after, d.top_up_l, d.laboratory, d.instrument, d.analysed_on, d.received_on, d.appearance, d.note, d.level_on_stick,
    d.smell, d.hours_on_oil, l.typed
from draw d join log_now l on l.id = d.log_id join sample s on s.id = d.sample_id join engine e on e.id = l.engine_id
order by s.code;

-- name: export_readings
-- readings.csv, every revision of every report of a sample
select r.laboratory, r.number, r.revision, s.code, x.analyte, x.reported, x.value, x.censor, x.unit, x.method,
    r.analysed_on
from report_kept r join sample s on s.id = r.sample_id join reading x on x.report_id = r.id
order by r.laboratory, r.number, r.revision, x.analyte;

-- name: export_coolants
-- coolants.csv
select code, na_mg_kg, k_mg_kg, b_mg_kg, si_mg_kg, density_kg_l, glycol_pct from coolant order by code;

-- name: export_bottles
-- bottles.csv: every step of a bottle's way
select b.id::text, s.code, b.step, b.on_date, b.laboratory, b.note, b.recorded_by, b.recorded_at
from bottle_step b join sample s on s.id = b.sample_id order by b.recorded_at, b.id;

-- name: export_answers
-- answers.csv: what was said to each query, with both values
select a.id::text, e.code, a.query, a.code, a.said, a.numbers, a.reason, a.answered_by, a.answered_at
from answer a join engine e on e.id = a.engine_id order by a.answered_at, a.id;

-- name: export_oils
-- oils.csv: batches with the figures of their reference that counts
select b.id, b.oil, b.grade, b.batch, coalesce(b.reference_on, (select min(r.analysed_on) from report_in_effect r
    where r.oil_batch_id = b.id)) as reference_on from oil_batch b order by b.oil, b.grade, b.batch;

-- name: export_oil_readings
-- Readings of the fresh-oil references, first revision.
select r.oil_batch_id, x.analyte, x.reported, x.value, x.censor from report_in_effect r
join reading x on x.report_id = r.id where r.oil_batch_id is not null;

-- name: export_decisions
-- decisions.csv: what a decision supersedes stands before it
with recursive chain as (
    select id, 0 as depth from decision where supersedes is null
    union all select d.id, chain.depth + 1 from decision d join chain on d.supersedes = chain.id)
select d.id::text, d.kind, e.code, s.code, r.laboratory, r.number, r.revision, d.supersedes::text, d.proposed, d.level,
    d.basis, d.run_state, d.until_dial, d.until_on, case when d.lifts = '{}' then '{-}' else d.lifts end, d.found, d.done,
    d.accepted, d.reason, d.note, d.decided_by, d.decided_at
from decision d join chain using (id) left join engine e on e.id = d.engine_id
left join sample s on s.id = d.sample_id left join report r on r.id = d.report_id
order by d.decided_at, chain.depth, d.id;

-- name: export_verdicts
-- verdicts.csv: the current verdict of every sample beside the standing sign-off
select s.code, e.code, l.on_date, l.dial, v.level, d.level, d.decided_by, day_there(e.id, d.decided_at), e.id, v.channels, v.policy, v.rules,
    n.name, v.lead, v.second, v.may_run, v.may_run_until, v.may_run_until_on, v.actions, v.checks, v.findings
from (select distinct on (sample_id) * from verdict order by sample_id, id desc) v
join sample s on s.id = v.sample_id join draw w on w.sample_id = s.id join log_now l on l.id = w.log_id
join engine e on e.id = l.engine_id join limits_version n on n.id = v.limits_version_id
left join decision_now d on d.sample_id = s.id and d.kind = 'sign_off'
where not exists (select 1 from bottle_now n where n.sample_id = s.id and n.step in ('lost', 'broken'))
order by s.code;

-- name: export_stops
-- stops.csv: every Stop that was ever raised
select e.code, r.key, r.on_date, r.dial, nullif(r.sample, ''), r.finding from raised_stop r
join engine e on e.id = r.engine_id order by e.code, r.on_date, r.key;

-- name: engines_ever_halted
-- Engines that ever had a Stop or a run decision.
select engine_id from raised_stop union select engine_id from decision where kind = 'run';

-- name: export_states
-- states.csv: where every engine stands
select e.code, e.meter_unit, e.depot, w.picture from engine e join wall w on w.engine_id = e.id order by e.code;

-- name: demo_verdicts
-- What the demo's analyst signs: every sample's verdict with the day its figures came in.
select distinct on (s.code) s.code as sample, e.code as engine, l.on_date, d.received_on, v.level, v.input_hash
from sample s join draw d on d.sample_id = s.id join log_now l on l.id = d.log_id join engine e on e.id = l.engine_id
join verdict v on v.sample_id = s.id order by s.code, v.id desc;

-- name: export_policies
-- policies.csv, what holds now
select distinct on (scope, scope_name) scope, scope_name, policy, reason from policy order by scope, scope_name, id desc;

-- name: export_peers
-- peers.csv, the version in force
select v.name, r.kind, r.name, r.other, r.analyte, r.n, r.mean, r.median, r.sd, r.factor, r.origin
from peer_row r join peers_version v on v.id = r.version_id
where r.version_id = (select max(id) from peers_version) order by r.kind, r.name, r.other, r.analyte;

-- name: export_debris
-- debris.csv, a row a count; a look that found nothing is one row with count 0
select k.name, e.code, l.on_date, l.dial, k.place, k.tool, k.area_cm2, k.area_total_cm2, k.pleats,
    k.pleats_total, case when k.both_sides then null else 'no' end, k.drained_min, k.hours, n.magnetic, n.type, n.size_class,
    coalesce(n.count, 0), nullif(n.amount, ''), n.mass_mg, k.note, l.id::text
from look k join log_now l on l.id = k.log_id join engine e on e.id = l.engine_id
left join look_count n on n.log_id = k.log_id
order by e.code, l.on_date, l.dial nulls first, k.name, n.type, n.size_class;

-- name: export_outcomes
-- outcomes.csv
select o.id::text, e.code, s.code, o.on_date, o.found, o.confirmed, o.hours_down, o.cost, o.saved, o.note,
    nullif(o.piece, ''), o.decided_by, o.decided_at
from outcome o join engine e on e.id = o.engine_id left join sample s on s.id = o.sample_id
order by e.code, o.on_date, o.id;

-- name: export_weights
-- weights.csv, every published version
select v.name, w.mode, w.evidence, w.seen, w.absent, w.origin from weight_row w
join weights_version v on v.id = w.version_id order by v.id, w.mode, w.evidence;

-- name: export_pictures
-- pictures.csv, every photograph of what stands in the log; the files lie in pictures/
select p.id::text, e.code, l.on_date, l.kind, k.name, p.sha256, nullif(p.caption, ''), p.taken_by, p.taken_at
from photo p join log_now l on l.id = p.log_id join engine e on e.id = l.engine_id
left join look k on k.log_id = l.id order by e.code, l.on_date, p.taken_at, p.id;

-- name: export_picture_files
-- What those photographs hold, each once.
select distinct on (p.sha256) p.sha256, a.content from photo p join attachment a on a.sha256 = p.sha256
join log_now l on l.id = p.log_id order by p.sha256;

-- name: export_lines
-- lines.csv, every line drawn on those photographs, those taken back too
select n.id::text, n.photo_id::text, n.kind, nullif(n.type, ''), n.x1, n.y1, n.x2, n.y2, n.known_mm, n.known_sd_mm,
    nullif(n.known_from, ''), n.withdraws::text, n.drawn_by, n.drawn_at
from picture_line n join photo p on p.id = n.photo_id join log_now l on l.id = p.log_id order by n.photo_id, n.drawn_at, n.id;

-- name: export_cases
-- cases.csv, as they were opened
select k.id::text, e.code, k.name, k.since, k.opened_from, s.code, k.carried, k.opened_by, k.opened_at
from engine_case k join engine e on e.id = k.engine_id left join sample s on s.id = k.sample_id
order by e.code, k.since, k.id;

-- name: export_case_entries
-- case_entries.csv, everything people added, those taken back too, in the order written
select n.id::text, n.case_id::text, e.code, n.kind, nullif(n.hypothesis, ''), nullif(n.said, ''), nullif(n.words, ''), n.weight,
    n.amount, n.litres_new, n.litres_trapped, n.measured, n.target,
    case when n.filter_changed then 'yes' when not n.filter_changed then 'no' end,
    n.outcome_id::text, n.follows::text, n.withdraws::text, n.on_date, n.entered_by, n.entered_at
from case_entry n join engine_case k on k.id = n.case_id join engine e on e.id = k.engine_id
order by e.code, k.since, k.id, n.seq;

-- name: export_work
-- work.csv, every decision of every piece of work, the earlier ones first
with recursive told as (
    select w.*, 0 as n from work_item w where w.replaces is null
    union all select w.*, t.n + 1 from work_item w join told t on w.replaces = t.id)
select w.id::text, e.code, w.case_id::text, w.kind, w.words, w.state, nullif(w.who, ''), w.due, w.hours, w.estimate, w.cost,
    l.on_date, l.seq, v.part, w.replaces::text, w.decided_by, w.decided_at
from told w join engine e on e.id = w.engine_id left join log_now l on l.id = w.finding left join event v on v.log_id = l.id
order by e.code, w.item, w.n;

-- name: export_links
-- links.csv, what people decided of what led to what, among findings that stand
select d.id::text, e.code, a.on_date, a.seq, x.part, b.on_date, b.seq, y.part, case when d.kept then 'yes' else 'no' end,
    d.decided_by, d.decided_at
from damage_link d join engine e on e.id = d.engine_id join log_now a on a.id = d.cause join event x on x.log_id = a.id
join log_now b on b.id = d.effect join event y on y.log_id = b.id order by e.code, d.decided_at, d.id;

-- name: export_moves
-- moves.csv, every move of a task, the earlier ones first
with recursive told as (
    select m.*, 0 as n from task_move m where m.follows is null
    union all select m.*, t.n + 1 from task_move m join told t on m.follows = t.id)
select m.id::text, e.code, m.task, m.day, nullif(m.reason, ''), m.follows::text, m.moved_by, m.moved_at
from told m join engine e on e.id = m.engine_id order by e.code, m.task, m.n;

-- name: export_hours
-- hours.csv, everything said of a depot's hours
select depot, starts, hours[1], hours[2], hours[3], hours[4], hours[5], hours[6], hours[7], said_by, said_at
from depot_hours order by depot, starts, said_at, id;

-- name: export_averages
-- averages.csv, everything said
select laboratory, model, analyte, average, at_meter, origin, said_by, said_at from average
order by laboratory, model, analyte, said_at, id;

-- name: export_maps
-- maps.csv, everything said of how files are read
select heads, laboratory, layout, said_by, said_at from report_layout order by heads, said_at, id;
