-- name: average_now
-- What counts of one laboratory, model and analyte.
select average, at_meter, origin from average
where laboratory = %(laboratory)s and model = %(model)s and analyte = %(analyte)s order by id desc limit 1;

-- name: average_there
-- Whether something was said of it at a moment.
select id from average
where laboratory = %(laboratory)s and model = %(model)s and analyte = %(analyte)s and said_at = %(at)s;

-- name: averages_of_model
-- What counts for a model, of every laboratory.
select distinct on (laboratory, analyte) laboratory, analyte, average, at_meter, origin from average
where model = %(model)s order by laboratory, analyte, id desc;

-- name: averages_now
-- All that counts, with who said it when.
select distinct on (model, laboratory, analyte) laboratory, model, analyte, average, at_meter, origin, said_by, said_at
from average order by model, laboratory, analyte, id desc;
