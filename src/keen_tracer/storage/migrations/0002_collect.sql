-- Collecting samples: plans per engine, the stick's length, what is seen at the draw.

create table plan (
    engine_id integer not null references engine,
    kind text not null,
    every double precision check (every > 0),
    method text not null default '',
    primary key (engine_id, kind)
);

alter table model add dipstick_to_low_mm double precision check (dipstick_to_low_mm > 0);
alter table engine add dipstick_to_low_mm double precision check (dipstick_to_low_mm > 0);

-- level_on_stick: 0 at the low mark, 1 at the full mark
alter table draw add level_on_stick double precision;
alter table draw add smell text not null default '';
