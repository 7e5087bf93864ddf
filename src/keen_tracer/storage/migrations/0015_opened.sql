-- Which finding of an opened engine led to which: what a person kept, turned or cut of the links the program proposes.

-- append-only: of one pair the newest row counts
create table damage_link (
    id uuid primary key,
    engine_id integer not null references engine,
    cause uuid not null references log,
    effect uuid not null references log,
    kept boolean not null,
    decided_by text not null check (decided_by <> ''),
    decided_at timestamptz not null default now(),
    check (cause <> effect)
);
create index damage_link_engine on damage_link (engine_id);
