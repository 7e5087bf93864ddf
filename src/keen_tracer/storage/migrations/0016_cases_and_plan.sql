-- Cases: one engine and one trouble from an alarm to its end; and the work that findings bring.

-- append-only: `since` is where the story begins, `carried` what was known when it was opened
create table engine_case (
    id uuid primary key,
    engine_id integer not null references engine,
    name text not null check (name <> ''),
    since date not null,
    opened_from text not null,
    sample_id integer references sample,
    carried text[] not null default '{}',
    opened_by text not null check (opened_by <> ''),
    opened_at timestamptz not null default now()
);
create index engine_case_engine on engine_case (engine_id);

-- append-only: everything people add to a case. `hypothesis` is a failure mode, or the entry in which somebody named another;
-- `follows` the closing or reopening a person saw standing; `withdraws` takes an entry back.
create table case_entry (
    id uuid primary key,
    case_id uuid not null references engine_case,
    seq bigint generated always as identity,
    kind text not null check (kind in ('hypothesis', 'evidence', 'set_aside', 'step', 'way_out', 'fill', 'note', 'rename', 'close', 'reopen', 'withdraw')),
    hypothesis text not null default '',
    said text not null default '',
    words text not null default '',
    weight double precision,
    amount double precision,
    litres_new double precision,
    litres_trapped double precision,
    measured double precision,
    target double precision,
    filter_changed boolean,
    outcome_id uuid references outcome,
    follows uuid references case_entry,
    withdraws uuid references case_entry,
    on_date date not null,
    entered_by text not null check (entered_by <> ''),
    entered_at timestamptz not null default now(),
    check ((kind = 'withdraw') = (withdraws is not null)),
    check ((kind = 'fill') = (litres_new is not null)),
    check (outcome_id is null or kind = 'close'),
    check (follows is null or kind in ('close', 'reopen')),
    constraint bound_weight check (weight >= -100 and weight <= 100),
    constraint bound_amount check (amount >= 0 and amount <= 1000000000000),
    constraint bound_litres_new check (litres_new > 0 and litres_new <= 100000),
    constraint bound_litres_trapped check (litres_trapped >= 0 and litres_trapped <= 100000),
    constraint bound_measured check (measured >= 0 and measured <= 1000000),
    constraint bound_target check (target >= 0 and target <= 1000000)
);
create index case_entry_case on case_entry (case_id, seq);
create unique index case_entry_taken_back on case_entry (withdraws) where withdraws is not null;
-- Of two people who close or reopen the same case at once, one learns of the other.
create unique index case_standing on case_entry (case_id, coalesce(follows, '00000000-0000-0000-0000-000000000000'))
    where kind in ('close', 'reopen');

-- A case as it stands: its newest name and beginning, and whether it is closed.
create view case_now as
select k.id, k.engine_id, coalesce(r.words, k.name) as name, coalesce(r.on_date, k.since) as since, k.opened_from, k.sample_id,
    k.carried, k.opened_by, k.opened_at, s.id as standing, coalesce(s.kind = 'close', false) as closed,
    s.said as ended, s.on_date as ended_on, s.outcome_id
from engine_case k
left join lateral (select n.words, n.on_date from case_entry n where n.case_id = k.id and n.kind = 'rename'
    and not exists (select 1 from case_entry w where w.withdraws = n.id) order by n.seq desc limit 1) r on true
left join lateral (select n.id, n.kind, n.said, n.on_date, n.outcome_id from case_entry n
    where n.case_id = k.id and n.kind in ('close', 'reopen') order by n.seq desc limit 1) s on true;

-- append-only: a piece of work as it was last decided; `item` is its first row, `replaces` the row a person saw standing
create table work_item (
    id uuid primary key,
    item uuid not null,
    engine_id integer not null references engine,
    case_id uuid references engine_case,
    finding uuid references log,
    kind text not null,
    words text not null check (words <> ''),
    state text not null,
    who text not null default '',
    due date,
    hours double precision,
    estimate double precision,
    cost double precision,
    replaces uuid references work_item,
    decided_by text not null check (decided_by <> ''),
    decided_at timestamptz not null default now(),
    check ((item = id) = (replaces is null)),
    constraint bound_hours check (hours >= 0 and hours <= 1000000),
    constraint bound_estimate check (estimate >= 0 and estimate <= 1000000000000),
    constraint bound_cost check (cost >= 0 and cost <= 1000000000000)
);
create unique index work_standing on work_item (replaces) where replaces is not null;
create index work_item_engine on work_item (engine_id);

-- What a failure costs, with everything that stands still then; what is known of serial ranges of a model.
alter table engine add column failure_cost double precision,
    add constraint bound_failure_cost check (failure_cost >= 0 and failure_cost <= 1000000000000);
alter table model add column failure_cost double precision, add column known_faults text not null default '',
    add constraint bound_failure_cost check (failure_cost >= 0 and failure_cost <= 1000000000000);

-- What a plan says that is no interval: points of the meter, the beginning of a season, numbers of sessions.
alter table plan add column said text not null default '';

-- append-only: a task that somebody moved to another day; no day: back to its own. `follows` is the move a person saw standing.
create table task_move (
    id uuid primary key,
    engine_id integer not null references engine,
    task text not null check (task <> ''),
    day date,
    reason text not null default '',
    follows uuid references task_move,
    moved_by text not null check (moved_by <> ''),
    moved_at timestamptz not null default now()
);
create index task_move_engine on task_move (engine_id);
-- Of two people who move the same task at once, one learns of the other.
create unique index task_move_standing on task_move (engine_id, task, coalesce(follows, '00000000-0000-0000-0000-000000000000'));

-- append-only: hours of work a depot has on each day of the week, Monday first, from a day of the year on; the newest row of a
-- depot and day counts, one without hours takes it back
create table depot_hours (
    id integer generated always as identity primary key,
    depot text not null references depot,
    starts text not null check (starts ~ '^(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$'),
    hours double precision[] not null check (cardinality(hours) in (0, 7)),
    said_by text not null check (said_by <> ''),
    said_at timestamptz not null default now()
);

-- Calendars that leave the house by a secret address; only its hash is kept.
create table calendar_feed (
    id uuid primary key,
    secret_hash text not null unique,
    depot text references depot,
    person text not null default '',
    made_by text not null check (made_by <> ''),
    made_at timestamptz not null default now(),
    revoked_at timestamptz
);

-- What an engine asks for is kept with its row of the Wall from now on.
insert into judging_queue (engine_id) select id from engine on conflict (engine_id) do nothing;
