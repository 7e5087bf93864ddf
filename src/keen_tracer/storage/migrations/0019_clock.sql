-- One clock: a session says how far the program's clock is ahead of the server's (`keen.ahead`, an interval), and every
-- moment the database writes by itself is then the program's. A session that says nothing has the server's clock.
create function keen_now() returns timestamptz language sql stable as
    $$ select now() + coalesce(nullif(current_setting('keen.ahead', true), ''), '0')::interval $$;
create function keen_clock() returns timestamptz language sql volatile as
    $$ select clock_timestamp() + coalesce(nullif(current_setting('keen.ahead', true), ''), '0')::interval $$;

do $$
declare one record;
begin
    for one in select table_name, column_name from information_schema.columns
        where table_schema = 'public' and column_default = 'now()'
    loop
        execute format('alter table %I alter column %I set default keen_now()', one.table_name, one.column_name);
    end loop;
end $$;
