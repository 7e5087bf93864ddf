-- name: peers_latest
-- The version of peers in force.
select id, name, published_at, published_by from peers_version order by id desc limit 1;

-- name: peers_versions
-- Published versions of peers, newest first, with what publishing them changed.
select name, published_at, published_by, changes from peers_version order by id desc limit 30;

-- name: peers_named
-- A version of peers by its name.
select id from peers_version where name = %(name)s;

-- name: peers_put
-- A new version of peers.
insert into peers_version (name, published_by, changes) values (%(name)s, %(by)s, %(changes)s) returning id;

-- name: peer_groups
-- What a version says beside the means of single engines.
select kind, name, other, analyte, n, mean, median, sd, factor, origin from peer_row
where version_id = %(version)s and kind <> 'engine';

-- name: peer_means
-- A version's means of some engines.
select kind, name, other, analyte, n, mean, median, sd, factor, origin from peer_row
where version_id = %(version)s and kind = 'engine' and name = any(%(codes)s);

-- name: policies_now
-- What was chosen last for every class and engine.
select distinct on (scope, scope_name) scope, scope_name, policy, reason, chosen_by from policy order by scope, scope_name, id desc;

-- name: policy_put
-- A choice of policy.
insert into policy (scope, scope_name, policy, reason, chosen_by)
values (%(scope)s, %(name)s, %(policy)s, %(reason)s, %(by)s);

-- name: engines_of_class
-- Ids of the engines of a class.
select id from engine where class = %(name)s;

-- name: count_samples
-- How many samples there are.
select count(*) from sample;
