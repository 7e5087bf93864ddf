-- name: layout_of_heads
-- How files with these headings are read, as somebody said it last.
select laboratory, layout, said_by, said_at from report_layout where heads = %(heads)s order by id desc limit 1;

-- name: layout_there
-- Whether something was said of these headings at a moment.
select id from report_layout where heads = %(heads)s and said_at = %(at)s;

-- name: engines_by_name
-- Every engine's name, with what a report's figures are converted to.
select code, name, meter_unit from engine order by code;

-- name: report_of_sample
-- The report of a sample that counts, the first where it has several.
select id, laboratory, number from report_in_effect where sample_id = %(sample)s order by id limit 1;

-- name: newest_report
-- The newest report there is.
select coalesce(max(id), 0) from report;

-- name: reports_since
-- Revisions of a report that came after another report.
select id, revision from report where id > %(id)s and laboratory = %(laboratory)s and number = %(number)s order by id;

-- name: arrived_put
-- A file that waits for a person.
insert into arrived (name, content, why, sent_by) values (%(name)s, %(content)s, %(why)s, %(by)s) returning id;

-- name: arrived_waiting
-- Files that wait for a person, the oldest first.
select id, name, why, sent_by, sent_at from arrived where settled_at is null order by id limit 200;

-- name: arrived_content
-- What a waiting file holds.
select name, content from arrived where id = %(id)s and settled_at is null;

-- name: arrived_settle
-- A person is done with a file: why it waited stays, what it held goes.
update arrived set settled_at = keen_now(), settled_by = %(by)s, content = '' where id = %(id)s and settled_at is null;

-- name: arrived_count
-- How many files wait for a person.
select count(*) from arrived where settled_at is null;
