-- What was found in filter, plug, pan, strainer or cooler; what an inspection found in the end; the lead of a verdict.

-- append-only: one look; a look that found nothing has no counts
create table look (
    log_id uuid primary key references log,
    name text not null unique check (name <> ''),
    place text not null,
    tool text not null default '',
    area_cm2 double precision check (area_cm2 > 0 and area_cm2 < 'infinity'),
    area_total_cm2 double precision check (area_total_cm2 > 0 and area_total_cm2 < 'infinity'),
    pleats integer check (pleats > 0),
    note text not null default ''
);

-- append-only
create table look_count (
    log_id uuid not null references look,
    type text not null,
    size_class text not null default '',
    count integer not null check (count >= 0),
    mass_mg double precision check (mass_mg >= 0 and mass_mg < 'infinity'),
    magnetic boolean,
    primary key (log_id, type, size_class)
);

-- append-only: what was really found. `found` is a failure mode, or 'nothing'
create table outcome (
    id uuid primary key,
    engine_id integer not null references engine,
    sample_id integer references sample,
    on_date date not null,
    found text not null,
    confirmed text not null check (confirmed in ('yes', 'no', 'unclear')),
    hours_down double precision check (hours_down >= 0 and hours_down < 'infinity'),
    cost double precision check (cost >= 0 and cost < 'infinity'),
    saved double precision check (saved >= 0 and saved < 'infinity'),
    note text not null default '',
    decided_by text not null check (decided_by <> ''),
    decided_at timestamptz not null default now()
);
create index outcome_engine on outcome (engine_id);

alter table verdict add lead text not null default '';
