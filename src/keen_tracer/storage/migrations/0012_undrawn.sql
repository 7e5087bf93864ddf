-- Bottles without a draw are few, and asked for after every write: kept aside instead of looked for among all.
create table undrawn (sample_id integer primary key references sample);
insert into undrawn select s.id from sample s where not exists (select 1 from draw d where d.sample_id = s.id);

create function sample_without_draw() returns trigger language plpgsql as $$
begin
    insert into undrawn select id from added;
    return null;
end $$;
create trigger sample_added after insert on sample referencing new table as added
    for each statement execute function sample_without_draw();

create function sample_has_draw() returns trigger language plpgsql as $$
begin
    delete from undrawn u using added a where u.sample_id = a.sample_id;
    return null;
end $$;
create trigger draw_added after insert on draw referencing new table as added
    for each statement execute function sample_has_draw();
