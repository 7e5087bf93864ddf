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
-- Reports that came after another.
select id, revision from report where id > %(id)s order by id;
