-- name: people
-- The persons to choose from.
select id, name, role from person where active order by name;

-- name: everybody
-- All who ever were on the list.
select id, name, role, active from person order by name;

-- name: person_put
-- A person of the short list.
insert into person (name, role) values (%(name)s, %(role)s) on conflict (name) do update set active = true
returning id, name, role;

-- name: person_role_put
-- Another role of somebody on the list.
update person set role = %(role)s where name = %(name)s and active returning id, name, role;

-- name: person_named
-- One person of the list.
select id, name, role from person where name = %(name)s and active;

-- name: session_put
-- A new session.
insert into session (token_hash, person_id) values (%(token)s, %(person)s);

-- name: session_person
-- Who a session belongs to.
select p.id, p.name, p.role from session s join person p on p.id = s.person_id
where s.token_hash = %(token)s and p.active and s.created_at > keen_now() - %(lasts)s::interval;

-- name: session_end
-- Signed out.
delete from session where token_hash = %(token)s;

-- name: sessions_over
-- Sessions that have run out, and answers nobody will send again, go.
with gone as (delete from idempotency where at < keen_now() - interval '7 days')
delete from session where created_at <= keen_now() - %(lasts)s::interval;

-- name: answer_of_key
-- The answer already given to a post with this key.
select mark, answer from idempotency where key = %(key)s;

-- name: answer_claim
-- Claim a key; whoever comes with it at the same moment waits here for the first.
insert into idempotency (key, route, mark, status, answer) values (%(key)s, %(route)s, %(mark)s, 200, 'null')
on conflict (key) do nothing;

-- name: answer_put
-- Remember the answer to a post, so that sending it again does nothing twice.
update idempotency set answer = %(answer)s where key = %(key)s;

-- name: setting_get
-- One setting.
select value from setting where key = %(key)s;

-- name: setting_put
-- Set one setting.
insert into setting (key, value) values (%(key)s, %(value)s)
on conflict (key) do update set value = excluded.value;

-- name: milestone_put
-- Something happened just now.
insert into milestone (what) values (%(what)s) on conflict (what) do update set at = keen_now();

-- name: milestone_get
-- When something last happened.
select at from milestone where what = %(what)s;

-- name: limits_latest
-- The version of limits in force.
select id, name, published_at, published_by from limits_version order by id desc limit 1;

-- name: standards_mark
-- Everything published and chosen, as one mark: while it is the same, so are the standards.
select concat_ws('|', current_database(),
    (select id || ' ' || published_at from limits_version order by id desc limit 1), 'peers',
    (select id || ' ' || published_at from peers_version order by id desc limit 1), 'weights',
    (select id || ' ' || published_at from weights_version order by id desc limit 1), 'policies',
    (select id || ' ' || chosen_at from policy order by id desc limit 1), 'dial',
    (select value from setting where key = 'false_alarms')) as mark;

-- name: limit_rows
-- The rows of one version of limits.
select scope, scope_name, analyte, basis, watch, act, unit, origin from limit_row
where version_id = %(version)s order by n;

-- name: limits_put
-- A new version of limits.
insert into limits_version (name, published_by) values (%(name)s, %(by)s) returning id;

-- name: limit_row_put
-- One row of a version of limits.
insert into limit_row (version_id, n, scope, scope_name, analyte, basis, watch, act, unit, origin)
values (%(version)s, %(n)s, %(scope)s, %(scope_name)s, %(analyte)s, %(basis)s, %(watch)s, %(act)s, %(unit)s,
    %(origin)s);

-- name: choices_of
-- What a person chose for himself.
select what, chosen from person_choice where person_id = %(person)s order by what;

-- name: choice_put
-- A choice of a person.
insert into person_choice (person_id, what, chosen) values (%(person)s, %(what)s, %(chosen)s)
on conflict (person_id, what) do update set chosen = excluded.chosen;

-- name: key_put
-- A key for a program of a person's own.
insert into api_key (key_hash, person_id, name, reads, last_day)
values (%(key)s, %(person)s, %(name)s, %(reads)s, %(last_day)s) returning id;

-- name: keys_of
-- A person's keys, the newest first; ended ones stay on the list.
select id, name, made_at, used_at, ended_at, reads, last_day,
    last_day < %(today)s as over from api_key where person_id = %(person)s order by id desc limit 50;

-- name: key_end
-- End one of a person's own keys.
update api_key set ended_at = keen_now() where id = %(id)s and person_id = %(person)s and ended_at is null;

-- name: key_person
-- Whose key it is; that it was used is noted once an hour.
with used as (update api_key set used_at = keen_now() where key_hash = %(key)s and ended_at is null
    and (used_at is null or used_at < keen_now() - interval '1 hour'))
select p.id, p.name, p.role, k.name as program, k.reads from api_key k join person p on p.id = k.person_id
where k.key_hash = %(key)s and k.ended_at is null and k.last_day >= keen_now()::date and p.active;
