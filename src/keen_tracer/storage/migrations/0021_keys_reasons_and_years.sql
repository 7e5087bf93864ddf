-- A key brings reports in; whether it also reads is said when it is made, and so is its last day. Keys made before could read: they go on as they were, for a year from here.
alter table api_key add reads boolean not null default false;
alter table api_key add last_day date;
update api_key set reads = true, last_day = keen_now()::date + 365;
alter table api_key alter last_day set not null;

-- Why which schools decide was chosen; choices of before say nothing.
alter table policy add reason text not null default '';

-- Oil by the calendar beside the meter, and what an engine is built as where its model does not say.
alter table engine add nominal_drain_days integer
    constraint bound_nominal_drain_days check (nominal_drain_days >= 1 and nominal_drain_days <= 3650);
alter table engine add serial_number text not null default '';
alter table engine add layout text not null default '';
alter table engine add features text[] not null default '{}';
