-- name: layout_of_heads
-- How files with these headings are read, as somebody said it last.
select laboratory, layout, said_by, said_at from report_layout where heads = %(heads)s order by id desc limit 1;

-- name: layout_there
-- Whether something was said of these headings at a moment.
select id from report_layout where heads = %(heads)s and said_at = %(at)s;

-- name: engines_by_name
-- Every engine's name, with what a report's figures are converted to.
select code, name, meter_unit from engine order by code;
