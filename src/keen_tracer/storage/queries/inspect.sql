-- name: engines_with_looks
-- Other engines of the same class with a look at a place, the newest looks first.
select e.id from engine e join lateral (
    select max(l.on_date) as on_date from log_now l join look k on k.log_id = l.id
    where l.engine_id = e.id and k.place = %(place)s) n on n.on_date is not null
where e.class = (select class from engine where id = %(engine)s) and e.id <> %(engine)s
order by n.on_date desc, e.id limit %(n)s;

-- name: newest_looks
-- The newest looks of the fleet or of one engine.
select l.id, e.code as engine, e.name as engine_name, l.on_date, l.dial, k.place, k.tool, k.note, l.recorded_by as by,
    (select count(*) from photo p where p.log_id = l.id) as pictures
from log_now l join look k on k.log_id = l.id join engine e on e.id = l.engine_id
where %(engine)s::integer is null or l.engine_id = %(engine)s
order by l.on_date desc, l.recorded_at desc limit %(n)s;

-- name: counts_of_looks
-- What looks found.
select log_id, type, size_class, count, amount, mass_mg from look_count where log_id = any(%(ids)s)
order by type, size_class;

-- name: look_of
-- One look that stands, with everything written down of it.
select l.id, l.engine_id, e.code as engine, e.name as engine_name, e.meter_unit as unit, l.on_date, l.dial,
    l.recorded_by as by, k.place, k.tool, k.area_cm2, k.area_total_cm2, k.pleats, k.pleats_total, k.both_sides,
    k.drained_min, k.hours, k.note
from log_now l join look k on k.log_id = l.id join engine e on e.id = l.engine_id where l.id = %(id)s;

-- name: photos_of_log
-- Photographs of one log row, oldest first.
select p.id, p.sha256, p.caption, p.taken_by, a.width, a.height
from photo p join attachment a on a.sha256 = p.sha256 where p.log_id = %(log)s order by p.taken_at, p.id;

-- name: earlier_pictures
-- Photographs of an engine's other looks, the newest first, to lay one beside the other.
select p.id, p.sha256, p.caption, l.on_date, k.place, a.width, a.height
from photo p join attachment a on a.sha256 = p.sha256 join log_now l on l.id = p.log_id join look k on k.log_id = l.id
where l.engine_id = %(engine)s and l.id <> %(log)s order by l.on_date desc, p.taken_at limit 60;

-- name: photo_there
-- Whether a photograph was taken.
select id from photo where id = %(id)s;

-- name: look_of_photo
-- The engine of the look a photograph belongs to.
select l.engine_id from photo p join log_now l on l.id = p.log_id join look k on k.log_id = l.id where p.id = %(id)s;

-- name: picture_beside
-- A photograph with its engine and the row of the log it belongs to.
select p.id, p.sha256, p.caption, p.taken_by, a.width, a.height, l.engine_id, l.id as log_id, l.on_date, l.kind,
    e.code as engine, e.name as engine_name, coalesce(v.part, '') as part, coalesce(v.details, '{}') as details,
    coalesce(v.note, '') as note
from photo p join attachment a on a.sha256 = p.sha256 join log_now l on l.id = p.log_id join engine e on e.id = l.engine_id
left join event v on v.log_id = l.id where p.id = %(id)s;

-- name: other_pictures
-- Every other photograph of an engine, the newest first.
select p.id, p.sha256, p.caption, l.on_date, l.kind, coalesce(k.place, '') as place, coalesce(v.part, '') as part,
    coalesce(v.details, '{}') as details, a.width, a.height
from photo p join attachment a on a.sha256 = p.sha256 join log_now l on l.id = p.log_id
left join look k on k.log_id = l.id left join event v on v.log_id = l.id
where l.engine_id = %(engine)s and p.id <> %(photo)s order by l.on_date desc, p.taken_at limit 60;

-- name: picture_line_there
-- Whether a line was drawn.
select id from picture_line where id = %(id)s;

-- name: picture_lines
-- Lines of photographs that nobody took back, oldest first.
select n.id, n.photo_id, n.kind, n.type, n.x1, n.y1, n.x2, n.y2, n.known_mm, n.known_sd_mm, n.known_from, n.drawn_by
from picture_line n where n.photo_id = any(%(photos)s) and n.kind <> 'withdraw'
    and not exists (select 1 from picture_line w where w.withdraws = n.id)
order by n.drawn_at, n.id;

-- name: damage_links
-- What people decided of an engine's links, oldest first.
select cause::text, effect::text, kept from damage_link where engine_id = %(engine)s order by decided_at, id;

-- name: damage_link_there
-- Whether a decision was kept.
select id from damage_link where id = %(id)s;

-- name: photos_of_logs
-- Photographs of some log rows.
select p.id, p.log_id, p.sha256, a.width, a.height from photo p join attachment a on a.sha256 = p.sha256
where p.log_id = any(%(logs)s) order by p.taken_at, p.id;

-- name: log_of_picture
-- The log row a picture of a file belongs to: the look of that name, else the first of its kind that day.
select l.id from log_now l left join look k on k.log_id = l.id
where l.engine_id = %(engine)s and l.on_date = %(on)s and l.kind = %(kind)s and coalesce(k.name, '') = %(look)s
order by l.recorded_at, l.id limit 1;
