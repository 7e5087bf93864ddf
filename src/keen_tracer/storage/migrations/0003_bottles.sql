-- The bottle's way, corrections with their reasons, what does not fit, labels, photographs.

-- why a row stands in place of another
alter table log add reason text not null default '';
-- what an event says beside its columns, such as {"heard": "cold start"}
alter table event add details jsonb not null default '{}';

create table coolant (
    code text primary key,
    na_mg_kg double precision check (na_mg_kg >= 0),
    k_mg_kg double precision check (k_mg_kg >= 0),
    b_mg_kg double precision check (b_mg_kg >= 0),
    si_mg_kg double precision check (si_mg_kg >= 0),
    density_kg_l double precision check (density_kg_l > 0),
    glycol_pct double precision check (glycol_pct >= 0 and glycol_pct <= 100),
    row_version integer not null default 1
);

-- append-only: where a bottle went after it was drawn
create table bottle_step (
    id uuid primary key,
    sample_id integer not null references sample,
    step text not null check (step in ('sent', 'received', 'lost', 'broken', 'found')),
    on_date date not null,
    laboratory text not null default '',
    note text not null default '',
    recorded_at timestamptz not null default now(),
    recorded_by text not null
);
create index bottle_step_sample on bottle_step (sample_id);

-- append-only: a bottle of fresh oil, drawn from a batch instead of an engine
create table reference_bottle (
    id uuid primary key,
    sample_id integer not null unique references sample,
    oil_batch_id integer not null references oil_batch,
    on_date date not null,
    recorded_at timestamptz not null default now(),
    recorded_by text not null
);

-- append-only: a bottle of an engine that is not on record; sorted out once a log row has its id
create table parked (
    id uuid primary key,
    sample_id integer not null references sample,
    engine_said text not null check (engine_said <> ''),
    on_date date not null,
    body jsonb not null,
    recorded_at timestamptz not null default now(),
    recorded_by text not null
);

-- append-only: numbers handed out on printed labels
create table label_run (
    id integer generated always as identity primary key,
    first bigint not null check (first > 0),
    pieces integer not null check (pieces between 1 and 500),
    engines text[] not null default '{}',
    printed_at timestamptz not null default now(),
    printed_by text not null
);

-- append-only: photographs, re-encoded, by what they hold
create table attachment (
    sha256 text primary key,
    media text not null,
    width integer not null,
    height integer not null,
    content bytea not null
);
create table photo (
    id uuid primary key,
    log_id uuid not null references log,
    sha256 text not null references attachment,
    caption text not null default '',
    taken_at timestamptz not null default now(),
    taken_by text not null
);
create index photo_log on photo (log_id);

-- what does not fit and is not answered, refreshed whenever an engine is judged
create table query (
    engine_id integer not null references engine,
    key text not null,
    code text not null,
    sample text not null default '',
    log uuid not null,
    on_date date,
    numbers jsonb not null,
    primary key (engine_id, key)
);

-- append-only: what a person said to a query; both values are kept in `numbers`
create table answer (
    id uuid primary key,
    engine_id integer not null references engine,
    query text not null,
    code text not null,
    said text not null check (said in ('stands', 'corrected', 'asked')),
    numbers jsonb not null,
    reason text not null default '',
    answered_by text not null,
    answered_at timestamptz not null default now(),
    unique (engine_id, query)
);

-- append-only: who changed what in the fleet record
create table record_change (
    id bigint generated always as identity primary key,
    place text not null,
    code text not null,
    field text not null,
    old text not null,
    new text not null,
    changed_at timestamptz not null default now(),
    changed_by text not null
);

-- bottles given to the simulated laboratory, and when their file comes back
create table lab_order (
    id uuid primary key,
    laboratory text not null,
    samples text[] not null,
    mischief text not null,
    seed integer not null,
    due_at timestamptz not null,
    made_at timestamptz not null default now(),
    made_by text not null,
    returned_at timestamptz,
    outcome text not null default ''
);

-- Where a bottle is: the newest step, if it has left the engine at all.
create view bottle_now as
    select distinct on (sample_id) * from bottle_step order by sample_id, on_date desc, recorded_at desc, id desc;
