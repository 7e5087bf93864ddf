-- Tables marked "append-only" get no UPDATE and no DELETE for the application's role: a correction is a new row.

create table depot (
    code text primary key,
    name text not null default '',
    time_zone text not null default 'UTC',
    walking_order integer,
    daily_capacity integer,
    row_version integer not null default 1
);

create table person (
    id smallint generated always as identity primary key,
    name text not null unique check (name <> ''),
    role text not null check (role in ('technician', 'analyst', 'releaser', 'admin')),
    active boolean not null default true
);

create table model (
    code text primary key,
    class text not null,
    oil_total_l double precision,
    sump_l double precision,
    allowed_grades text[] not null default '{}',
    layout text not null default '',
    bearing_type text not null default '',
    part_materials text not null default '',
    sampling_point text not null default '',
    between_marks_l double precision,
    features text[] not null default '{}',
    row_version integer not null default 1
);

create table engine (
    id integer generated always as identity primary key,
    code text not null unique check (code <> ''),
    name text not null default '',
    depot text references depot,
    model text references model,
    class text not null,
    meter_unit text not null default 'h',
    sump_l double precision,
    oil_total_l double precision,
    carry_over_frac double precision check (carry_over_frac >= 0 and carry_over_frac < 1),
    allowed_grades text[] not null default '{}',
    oil text not null default '',
    fuel text not null default '',
    coolant text not null default '',
    in_service_on date,
    sampling_method text not null default '',
    interval_meter double precision check (interval_meter > 0),
    interval_days integer check (interval_days > 0),
    nominal_drain_meter double precision check (nominal_drain_meter > 0),
    row_version integer not null default 1
);

-- append-only: every imported file, so that each figure can be followed to where it came from
create table source (
    id integer generated always as identity primary key,
    sha256 text not null,
    kind text not null,
    name text not null,
    bytes bigint not null,
    imported_at timestamptz not null default now(),
    imported_by text not null
);

-- append-only
create table oil_batch (
    id integer generated always as identity primary key,
    oil text not null check (oil <> ''),
    grade text not null default '',
    batch text not null default '',
    reference_on date,
    unique (oil, grade, batch)
);

-- append-only: the one time line of an engine
create table log (
    id uuid primary key,
    engine_id integer not null references engine,
    on_date date not null,
    at_time time,
    seq integer not null default 0,
    dial double precision check (dial >= 0),
    kind text not null,
    replaces uuid unique references log,
    voided boolean not null default false,
    recorded_at timestamptz not null default now(),
    recorded_by text not null default '',
    source_id integer references source,
    source_row integer
);
create index log_engine on log (engine_id, on_date);

-- append-only
create table event (
    log_id uuid primary key references log,
    dial_new double precision check (dial_new >= 0),
    litres_in double precision check (litres_in >= 0),
    litres_drained double precision check (litres_drained >= 0),
    oil text not null default '',
    grade text not null default '',
    batch text not null default '',
    part text not null default '',
    note text not null default ''
);

-- append-only: a bottle's identity; what is known of its drawing is in `draw`, so that it can be corrected
create table sample (
    id integer generated always as identity primary key,
    code text not null unique check (code <> '')
);

-- append-only
create table draw (
    log_id uuid primary key references log,
    sample_id integer not null references sample,
    purpose text not null default 'routine',
    resample_of text not null default '',
    oil_change_dial double precision,
    oil text not null default '',
    method text not null default '',
    oil_changed_after boolean,
    top_up_l double precision check (top_up_l >= 0),
    laboratory text not null default '',
    instrument text not null default '',
    analysed_on date,
    received_on date,
    appearance text not null default '',
    note text not null default ''
);
create index draw_sample on draw (sample_id);

-- append-only: a laboratory's report in its revisions, of a sample or of a fresh-oil batch
create table report (
    id integer generated always as identity primary key,
    laboratory text not null default '',
    number text not null,
    revision smallint not null check (revision >= 1),
    sample_id integer references sample,
    oil_batch_id integer references oil_batch,
    analysed_on date,
    content_hash text not null,
    source_id integer references source,
    received_at timestamptz not null default now(),
    unique (laboratory, number, revision),
    check (num_nonnulls(sample_id, oil_batch_id) = 1)
);
create index report_sample on report (sample_id);
create index report_batch on report (oil_batch_id) where oil_batch_id is not null;

-- append-only: value in the analyte's unit; `reported` and `unit` only where the cell said it otherwise
create table reading (
    report_id integer not null references report,
    analyte smallint not null,
    censor smallint not null default 0,
    value double precision check (value >= 0 and value < 'infinity'),
    reported text,
    unit text,
    method text,
    primary key (report_id, analyte)
);

-- append-only: published versions of limits, each row with its origin
create table limits_version (
    id integer generated always as identity primary key,
    name text not null unique check (name <> ''),
    published_at timestamptz not null default now(),
    published_by text not null
);
create table limit_row (
    version_id integer not null references limits_version,
    n integer not null,
    scope text not null,
    scope_name text not null,
    analyte text not null,
    basis text not null,
    watch double precision,
    act double precision,
    unit text not null default '',
    origin text not null check (origin <> ''),
    primary key (version_id, n),
    unique nulls not distinct (version_id, scope, scope_name, analyte, basis, watch, act)
);

-- append-only: what the figures say; the newest per sample is current
create table verdict (
    id bigint generated always as identity primary key,
    sample_id integer not null references sample,
    limits_version_id integer not null references limits_version,
    rules text not null,
    policy text not null,
    input_hash text not null,
    level smallint,
    channels smallint[] not null,
    findings jsonb not null,
    actions jsonb not null,
    may_run text not null,
    may_run_until double precision,
    computed_at timestamptz not null default now()
);
create index verdict_sample on verdict (sample_id, id desc);

-- append-only: what a person decided. Each supersedes the one before; the unique key is the guard against
-- two people deciding at once.
create table decision (
    id uuid primary key,
    kind text not null check (kind in ('sign_off', 'run', 'amendment', 'withdraw')),
    engine_id integer references engine,
    sample_id integer references sample,
    report_id integer references report,
    supersedes uuid unique references decision,
    proposed smallint check (proposed between 0 and 3),
    level smallint check (level between 0 and 3),
    basis text not null default '',
    run_state text check (run_state in ('hold', 'restrict', 'release')),
    until_dial double precision,
    accepted boolean,
    reason text not null default '',
    note text not null default '',
    decided_by text not null check (decided_by <> ''),
    decided_at timestamptz not null default now(),
    check (num_nonnulls(engine_id, sample_id, report_id) = 1)
);
create unique index decision_first_sample on decision (sample_id) where supersedes is null and sample_id is not null;
create unique index decision_first_engine on decision (engine_id) where supersedes is null and engine_id is not null;
create unique index decision_first_report on decision (report_id) where supersedes is null and report_id is not null;
create index decision_sample on decision (sample_id) where sample_id is not null;
create index decision_report on decision (report_id) where report_id is not null;
create index decision_engine on decision (engine_id) where engine_id is not null;

create table stale (
    engine_id integer primary key references engine,
    since timestamptz not null default now()
);

-- what the Wall shows of an engine, refreshed whenever it is judged or decided on
create table wall (
    engine_id integer primary key references engine,
    level smallint,
    signed_level smallint,
    run_state text,
    due_on date,
    open_stop boolean not null default false,
    waiting integer not null default 0, -- samples that wait for a person
    picture jsonb not null,
    refreshed_at timestamptz not null default now()
);

create table session (
    token_hash bytea primary key,
    person_id smallint not null references person,
    created_at timestamptz not null default now()
);

create table idempotency (
    key uuid primary key,
    route text not null,
    status smallint not null,
    answer jsonb not null,
    at timestamptz not null default now()
);

-- of the moment, like sessions: when the last backup was made
create table happened (
    what text primary key,
    at timestamptz not null default now()
);

create table setting (
    key text primary key,
    value jsonb not null
);

-- Current rows: not corrected by another one, and not voided.
create view log_now as
    select l.* from log l
    where not l.voided and not exists (select 1 from log newer where newer.replaces = l.id);

-- Reports that count: the first revision, or a later one a person accepted.
create view report_in_effect as
    select r.* from report r
    where (r.revision = 1 or exists (
            select 1 from decision d where d.report_id = r.id and d.accepted
            and not exists (select 1 from decision later where later.supersedes = d.id)))
      and not exists (
            select 1 from report n
            join decision d on d.report_id = n.id and d.accepted
            where n.laboratory = r.laboratory and n.number = r.number and n.revision > r.revision
            and not exists (select 1 from decision later where later.supersedes = d.id));

create view decision_now as
    select d.* from decision d
    where not exists (select 1 from decision later where later.supersedes = d.id);
