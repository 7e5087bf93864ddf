-- append-only: how files of a laboratory are read, by the headings they are known again by; the newest of the same heads counts
create table report_layout (
    id integer generated always as identity primary key,
    heads text not null check (heads <> ''),
    laboratory text not null default '',
    layout jsonb not null,
    said_by text not null check (said_by <> ''),
    said_at timestamptz not null default now()
);
create index report_layout_heads on report_layout (heads);
