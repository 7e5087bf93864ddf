-- The first of the files that came in with it; none where it is that one, or came in before this was kept.
alter table source add together integer references source;

-- An import that was taken back, file by file: its rows of the log are voided, its reports count no more, and neither is known when the same comes in again.
-- append-only
create table taken_back (
    source_id integer primary key references source,
    taken_by text not null,
    taken_at timestamptz not null default keen_now(),
    reason text not null default ''
);

-- Rows of the log that are on record, whether they stand or were replaced: those of an import that was taken back are not.
create view log_kept as
    select l.* from log l where not exists (select 1 from taken_back t where t.source_id = l.source_id);

-- Reports that are on record: those of an import that was taken back are not.
create view report_kept as
    select r.* from report r where not exists (select 1 from taken_back t where t.source_id = r.source_id);

-- Reports that count: the first revision on record, or a later one a person accepted.
create or replace view report_in_effect as
    select r.* from report r
    where not exists (select 1 from taken_back t where t.source_id = r.source_id)
      and (r.revision = 1
        or not exists (
            select 1 from report_kept p
            where p.laboratory = r.laboratory and p.number = r.number and p.revision < r.revision)
        or exists (
            select 1 from decision d where d.report_id = r.id and d.accepted
            and not exists (select 1 from decision later where later.supersedes = d.id)))
      and not exists (
            select 1 from report_kept n
            join decision d on d.report_id = n.id and d.accepted
            where n.laboratory = r.laboratory and n.number = r.number and n.revision > r.revision
            and not exists (select 1 from decision later where later.supersedes = d.id));

-- A look of an import that was taken back may come in again under its name.
alter table look drop constraint look_name_key;
create index look_name on look (name);
create index log_source on log (source_id) where source_id is not null;
create index report_source on report (source_id) where source_id is not null;
create index query_code on query (code);
