-- What an engine's state was before the program judged it by other rules, until somebody has seen which became graver.
create table before_rules (
    engine_id integer primary key references engine,
    rules text not null,
    level smallint check (level between 0 and 3),
    may_run text not null,
    graver boolean,
    seen_by text check (seen_by <> ''),
    seen_at timestamptz
);
delete from setting where key = 'stops_before';

-- The date it was at an engine's depot at a moment; without a depot, at the first depot in walking order.
create function day_there(of_engine integer, moment timestamptz) returns date language sql stable as $$
    select (moment at time zone coalesce(
        (select d.time_zone from engine e join depot d on d.code = e.depot where e.id = of_engine),
        (select time_zone from depot order by walking_order nulls last, code limit 1),
        current_setting('TimeZone')))::date
$$;
