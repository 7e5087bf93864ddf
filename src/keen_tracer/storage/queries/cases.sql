-- name: work_of_engine
-- Work on an engine as it stands, in the order it was first written down, each with the first figure anybody typed.
select w.id, w.item, w.case_id, w.finding::text, w.kind, w.words, w.state, w.who, w.due, w.hours, w.estimate, w.cost,
    w.decided_by as by, day_there(w.engine_id, w.decided_at) as decided_on, (select coalesce(x.estimate, x.cost)
    from work_item x where x.item = w.item and coalesce(x.estimate, x.cost) is not null
    order by x.decided_at, x.replaces is not null, x.id limit 1) as first_estimate
from work_item w join work_item f on f.id = w.item
where w.engine_id = %(engine)s and not exists (select 1 from work_item n where n.replaces = w.id)
order by f.decided_at, w.due nulls last, w.item;

-- name: work_row
-- One row of a piece of work, and whether another stands in its place.
select w.id, w.item, w.engine_id, w.case_id, w.finding, w.state,
    exists (select 1 from work_item n where n.replaces = w.id) as replaced
from work_item w where w.id = %(id)s;

-- name: work_whole
-- One row of a piece of work with everything it says.
select w.kind, w.words, w.state, w.who, w.due, w.hours, w.estimate, w.cost, e.code as engine
from work_item w join engine e on e.id = w.engine_id where w.id = %(id)s;

-- name: cases
-- Cases of one engine or of the fleet, the open ones first, then the newest.
select k.id, e.code as engine, e.name as engine_name, k.name, k.since, k.opened_by, k.closed, k.ended, k.ended_on
from case_now k join engine e on e.id = k.engine_id
where %(engine)s::integer is null or k.engine_id = %(engine)s
order by k.closed, k.since desc, k.opened_at desc limit %(n)s;

-- name: case_of
-- One case as it stands.
select k.id, k.engine_id, e.code as engine, e.name as engine_name, e.meter_unit as unit, e.model, k.name, k.since,
    k.opened_from, p.code as sample, k.carried, k.opened_by, k.opened_at, day_there(k.engine_id, k.opened_at) as opened_on, k.standing, k.closed, k.ended, k.ended_on,
    coalesce(m.known_faults, '') as faults_of_model, e.serial_number
from case_now k join engine e on e.id = k.engine_id left join model m on m.code = e.model
left join sample p on p.id = k.sample_id where k.id = %(id)s;

-- name: case_entries
-- What people added to a case, oldest first; what was taken back is marked.
select n.id, n.kind, n.hypothesis, n.said, n.words, n.weight, n.amount, n.litres_new, n.litres_trapped, n.measured, n.target,
    n.filter_changed, n.outcome_id, n.withdraws, n.on_date, n.entered_by as by, n.entered_at as at,
    exists (select 1 from case_entry w where w.withdraws = n.id) as withdrawn
from case_entry n where n.case_id = %(id)s order by n.seq;

-- name: case_entry_there
-- Whether something was added already, and to which case.
select id, case_id, kind from case_entry where id = %(id)s;

-- name: run_decisions_since
-- Run decisions and sign-offs of an engine since a day, for the line of a case.
select d.kind, d.run_state, d.level, d.reason, d.decided_by as by, day_there(%(engine)s, d.decided_at) as on_date, s.code as sample
from decision d left join sample s on s.id = d.sample_id
left join draw w on w.sample_id = d.sample_id left join log_now l on l.id = w.log_id
where (d.engine_id = %(engine)s or l.engine_id = %(engine)s)
    and day_there(%(engine)s, d.decided_at) >= %(since)s
order by d.decided_at, d.id;

-- name: ended_cases
-- Other cases that ended, with what they knew at the start and what was found, the newest first.
select k.id, e.code as engine, e.model, k.name, k.carried, k.ended, k.ended_on, coalesce(o.found, '') as found
from case_now k join engine e on e.id = k.engine_id left join outcome o on o.id = k.outcome_id
where k.closed and k.ended <> 'by_mistake' and k.id <> %(id)s order by k.ended_on desc, k.id limit %(n)s;

-- name: open_cases
-- Open cases of engines, the newest first.
select e.code as engine, k.id, k.name, k.since from case_now k join engine e on e.id = k.engine_id
where not k.closed and e.code = any(%(codes)s) order by e.code, k.since desc, k.id;

-- name: finding_there
-- The finding of a day, in its order, of a part.
select l.id from log_now l join event v on v.log_id = l.id
where l.engine_id = %(engine)s and l.on_date = %(on)s and l.seq = %(seq)s and l.kind = 'finding' and v.part = %(part)s
order by l.recorded_at, l.id limit 1;

-- name: outcome_there
-- Whether an outcome is on record.
select id from outcome where id = %(id)s;
