-- name: looks_known
-- Looks on record by their name: whose, and what they say.
select k.name, l.id::text as log_id, e.code as engine, l.on_date, l.dial, k.place
from look k join log_kept l on l.id = k.log_id join engine e on e.id = l.engine_id where k.name = any(%(names)s);

-- name: counts_known
-- The counts of looks on record.
select k.name, n.type, n.size_class, n.count from look_count n join look k on k.log_id = n.log_id
join log_kept l on l.id = k.log_id where k.name = any(%(names)s);

-- name: outcome_put
-- What an inspection found; once.
insert into outcome (id, engine_id, sample_id, on_date, found, confirmed, hours_down, cost, saved, note, piece,
    decided_by, decided_at) values (%(id)s, %(engine)s, %(sample)s, %(on)s, %(found)s, %(confirmed)s, %(hours_down)s, %(cost)s,
    %(saved)s, %(note)s, %(piece)s, %(by)s, coalesce(%(at)s, keen_now())) on conflict (id) do nothing;

-- name: outcomes_of_engine
-- What inspections found of one engine, newest first.
select o.on_date as on, s.code as sample, o.found, o.confirmed, o.hours_down, o.cost, o.saved, o.note, o.piece,
    o.decided_by as by
from outcome o left join sample s on s.id = o.sample_id where o.engine_id = %(engine)s
order by o.on_date desc, o.decided_at desc, o.id limit 100;

-- name: outcomes_of_engines
-- What inspections found of the given engines.
select e.code as engine, o.on_date, o.found, o.confirmed, o.hours_down, o.cost, o.saved
from outcome o join engine e on e.id = o.engine_id where o.engine_id = any(%(ids)s) order by o.on_date, o.id;
