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

-- Bounds have a lower end that physics knows; rows of before stay as they are.
alter table engine drop constraint bound_interval_meter, add constraint bound_interval_meter check (interval_meter >= 0.1 and interval_meter <= 1000000) not valid;
alter table engine drop constraint bound_nominal_drain_meter, add constraint bound_nominal_drain_meter check (nominal_drain_meter >= 0.1 and nominal_drain_meter <= 1000000) not valid;
alter table average drop constraint bound_at_meter, add constraint bound_at_meter check (at_meter >= 0.1 and at_meter <= 1000000) not valid;
alter table plan drop constraint bound_every, add constraint bound_every check (every >= 0.1 and every <= 1000000) not valid;
alter table engine drop constraint bound_oil_total_l, add constraint bound_oil_total_l check (oil_total_l >= 0.01 and oil_total_l <= 100000) not valid;
alter table engine drop constraint bound_sump_l, add constraint bound_sump_l check (sump_l >= 0.01 and sump_l <= 100000) not valid;
alter table model drop constraint bound_oil_total_l, add constraint bound_oil_total_l check (oil_total_l >= 0.01 and oil_total_l <= 100000) not valid;
alter table model drop constraint bound_sump_l, add constraint bound_sump_l check (sump_l >= 0.01 and sump_l <= 100000) not valid;
alter table case_entry drop constraint bound_litres_new, add constraint bound_litres_new check (litres_new >= 0.01 and litres_new <= 100000) not valid;
alter table model drop constraint bound_between_marks_l, add constraint bound_between_marks_l check (between_marks_l >= 0.001 and between_marks_l <= 1000) not valid;
alter table coolant drop constraint bound_density_kg_l, add constraint bound_density_kg_l check (density_kg_l >= 0.1 and density_kg_l <= 5) not valid;
alter table look drop constraint bound_area_cm2, add constraint bound_area_cm2 check (area_cm2 >= 0.0001 and area_cm2 <= 1000000) not valid;
alter table look drop constraint bound_area_total_cm2, add constraint bound_area_total_cm2 check (area_total_cm2 >= 0.0001 and area_total_cm2 <= 1000000) not valid;
alter table picture_line drop constraint bound_known_mm, add constraint bound_known_mm check (known_mm >= 0.0001 and known_mm <= 10000) not valid;
