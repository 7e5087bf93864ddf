-- One state per engine. A Stop stands until a signed release names it: decisions say which reasons they lift, what
-- was found and what was done; a permission ends by meter and by day.
alter table decision add until_on date;
alter table decision add lifts text[]; -- keys of reasons; null in decisions of versions that named none
alter table decision add found text not null default '';
alter table decision add done text not null default '';

-- append-only: every Stop that was ever raised, by its key. No correction, import or recompute takes one back.
create table raised_stop (
    engine_id integer not null references engine,
    key text not null,
    on_date date not null,
    dial double precision,
    sample text not null default '',
    finding jsonb not null,
    raised_at timestamptz not null default now(),
    primary key (engine_id, key)
);

alter table verdict add may_run_until_on date;
alter table verdict add second text not null default '';
alter table verdict add checks text[] not null default '{}';

alter table outcome add piece text not null default ''; -- where the piece is kept

alter table model add test_limits jsonb not null default '{}'; -- pass criteria of tests, by the name of the figure

-- Stops that were lifted by a repair, a lower signature or a later quiet sample come back when the engines are judged
-- again; the start says which. Kept here: those that stood before.
insert into setting (key, value)
select 'stops_before', coalesce(jsonb_agg(e.code order by e.code) filter (where w.open_stop or w.run_state = 'hold'), '[]')
from wall w join engine e on e.id = w.engine_id having count(*) > 0
on conflict (key) do update set value = excluded.value;

alter table wall drop column run_state;
alter table wall add until_on date; -- the last day of its permission; past it the engine is among those not to run
insert into judging_queue (engine_id) select id from engine on conflict (engine_id) do nothing;

-- A view keeps the columns of its day.
create or replace view decision_now as
    select d.* from decision d
    where not exists (select 1 from decision later where later.supersedes = d.id);
