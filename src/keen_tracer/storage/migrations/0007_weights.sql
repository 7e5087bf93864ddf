-- Weights of evidence for failure modes as published versions: rows that lie over those the program ships with.

-- append-only
create table weights_version (
    id integer generated always as identity primary key,
    name text not null unique check (name <> ''),
    published_at timestamptz not null default now(),
    published_by text not null
);

-- append-only. evidence 'prior': `seen` is the mode's prior; else what it adds when seen and when known to be absent
create table weight_row (
    version_id integer not null references weights_version,
    mode text not null,
    evidence text not null,
    seen double precision not null,
    absent double precision not null,
    origin text not null check (origin <> ''),
    primary key (version_id, mode, evidence)
);
