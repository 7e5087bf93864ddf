-- One word for one thing: what waits to be judged is a queue, what happened once is a milestone.
alter table stale rename to judging_queue;
alter table happened rename to milestone;

-- The page wrote "power" where the core knew "power_down". A symptom outside the vocabulary of that day said
-- nothing to the judgement: its text becomes the note of "other", so that nothing written down is lost.
update event set part = 'power_down' where part = 'power'
    and exists (select 1 from log l where l.id = log_id and l.kind = 'symptom');
update event set note = concat_ws(': ', part, nullif(note, '')), part = 'other'
    where exists (select 1 from log l where l.id = log_id and l.kind = 'symptom')
    and part <> '' and part not in (
        'knock', 'low_oil_pressure_hot', 'oil_lamp_hot_idle', 'coolant_in_sump', 'level_rising',
        'level_rising_coolant', 'bearing_flakes', 'chunks', 'part_fragment', 'filter_collapsed', 'pickup_blocked',
        'noise', 'oil_pressure', 'smoke', 'blow_by', 'power_down', 'coolant_use', 'level_falling', 'other');
update event set part = 'other' where part = ''
    and exists (select 1 from log l where l.id = log_id and l.kind = 'symptom');

-- Tools that opened a filter are of a vocabulary too; another word goes to the note.
update look set tool = 'roller_cutter' where lower(tool) in ('roller cutter', 'roller-cutter', 'cutter');
update look set tool = lower(tool) where lower(tool) in ('saw', 'snips', 'wipe');
update look set note = concat_ws(': ', tool, nullif(note, '')), tool = ''
    where tool not in ('', 'roller_cutter', 'snips', 'saw', 'wipe');

-- Pages read by key what was computed when an engine was judged: its group on the Wall, and which of its samples
-- wait for a person. Every engine is judged again once, which fills both.
alter table wall add column need smallint not null default 4; -- place in the groups of the Wall; overdue is of the day
create table waiting_sample (
    sample_id integer primary key references sample,
    engine_id integer not null references engine,
    level smallint not null,
    on_date date not null
);
create index waiting_sample_order on waiting_sample (level desc, on_date, sample_id);
create index waiting_sample_engine on waiting_sample (engine_id);
insert into judging_queue (engine_id) select id from engine on conflict (engine_id) do nothing;

-- Moves with every transaction that wrote: pages ask for it instead of asking for everything again.
create sequence change_mark;

-- Finding by any part of a name without reading every name. A server without the extension stays as it was.
do $$ begin
    create extension if not exists pg_trgm;
    create index sample_code_part on sample using gin (code gin_trgm_ops);
exception when others then
    raise notice 'names are found without an index: %', sqlerrm;
end $$;

create index report_amended on report (id) where revision > 1;
