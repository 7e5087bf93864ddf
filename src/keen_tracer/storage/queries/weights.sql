-- name: weights_latest
-- The version of weights in force.
select id, name from weights_version order by id desc limit 1;

-- name: weights_named
-- A version of weights by its name.
select id from weights_version where name = %(name)s;

-- name: weights_put
-- A new version of weights.
insert into weights_version (name, published_by) values (%(name)s, %(by)s) returning id;

-- name: weight_rows
-- The rows of a version.
select mode, evidence, seen, absent, origin from weight_row where version_id = %(version)s order by mode, evidence;

-- name: weights_versions
-- Every version of weights, newest first.
select name, published_by, published_at from weights_version order by id desc;
