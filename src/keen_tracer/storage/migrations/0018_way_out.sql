-- Hours on the oil as a report told them, where nobody read the meter.
alter table draw add column hours_on_oil double precision
    constraint bound_hours_on_oil check (hours_on_oil >= 0 and hours_on_oil <= 10000000);

-- append-only: a laboratory's averages for a model; the newest of one laboratory, model and analyte counts
create table average (
    id integer generated always as identity primary key,
    laboratory text not null check (laboratory <> ''),
    model text not null references model (code) on update cascade,
    analyte text not null,
    average double precision not null constraint bound_average check (average >= 0 and average <= 1000000000),
    at_meter double precision constraint bound_at_meter check (at_meter > 0 and at_meter <= 1000000),
    origin text not null default '',
    said_by text not null check (said_by <> ''),
    said_at timestamptz not null default now()
);
create index average_of on average (model, laboratory, analyte, id desc);

-- Keys for programs of a person's own: only the hash stands here. An ended key stays as a record.
create table api_key (
    id integer generated always as identity primary key,
    key_hash bytea not null unique,
    person_id integer not null references person (id),
    name text not null check (name <> ''),
    made_at timestamptz not null default now(),
    used_at timestamptz,
    ended_at timestamptz
);

-- Files a program sent that only a person can bring in; settled ones keep why they waited, not what they held.
create table arrived (
    id integer generated always as identity primary key,
    name text not null check (name <> ''),
    content bytea not null,
    why text not null check (why <> ''),
    sent_by text not null check (sent_by <> ''),
    sent_at timestamptz not null default now(),
    settled_by text,
    settled_at timestamptz
);
create index arrived_waiting on arrived (id) where settled_at is null;

-- What a person chose for himself: units, a tour that was dismissed.
create table person_choice (
    person_id integer not null references person (id),
    what text not null check (what <> ''),
    chosen text not null,
    primary key (person_id, what)
);

-- Figures of a log row as somebody typed them, where that was in another unit than the column's.
alter table log add column typed jsonb;
create or replace view log_now as
    select l.* from log l
    where not l.voided and not exists (select 1 from log newer where newer.replaces = l.id);
