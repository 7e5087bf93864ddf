-- Published versions of what peers, laboratories and seasons say; which schools decide for whom.

-- append-only; `changes` is what publishing it changed: counts and the first few levels
create table peers_version (
    id integer generated always as identity primary key,
    name text not null unique check (name <> ''),
    published_at timestamptz not null default now(),
    published_by text not null,
    changes jsonb not null default '{}'
);

-- append-only. model, class: n engines, mean and median of their means, sd between them, factor on the spread inside
-- one; engine: its mean; laboratories: offset from `name` to `other` with its sd, from n engines; season: shift.
-- All in ln(rise at the nominal drain + a).
create table peer_row (
    version_id integer not null references peers_version,
    kind text not null check (kind in ('model', 'class', 'engine', 'laboratories', 'season')),
    name text not null,
    other text not null default '',
    analyte smallint not null,
    n integer not null default 0,
    mean double precision,
    median double precision,
    sd double precision,
    factor double precision,
    origin text not null check (origin <> ''),
    primary key (version_id, kind, name, other, analyte)
);

-- append-only: the newest choice for a scope holds
create table policy (
    id integer generated always as identity primary key,
    scope text not null check (scope in ('class', 'engine')),
    scope_name text not null,
    policy text not null,
    chosen_by text not null,
    chosen_at timestamptz not null default now()
);
create index policy_scope on policy (scope, scope_name, id desc);

alter table verdict add peers_version_id integer references peers_version;
