-- What is accepted never breaks anything later.

-- Engines that cannot be judged, with the reason; the others go on.
create table unjudged (
    engine_id integer primary key references engine,
    since timestamptz not null default now(),
    why text not null check (why <> ''),
    incident text not null
);
-- The Wall's groups have one more after the first: "cannot be judged".
update wall set need = need + 1 where need >= 1;
alter table wall alter column need drop default;

-- The index for finding by parts of a name also answered "which of these names are there", at two milliseconds a name:
-- an import of 30 000 samples took 150 s over it, 8 s without (measured). On another expression it is left alone.
do $$ begin
    drop index if exists sample_code_part;
    create index sample_code_part on sample using gin (lower(code) gin_trgm_ops);
exception when others then
    raise notice 'names are found without an index: %', sqlerrm;
end $$;

-- What a figure, a day or a text may be at all (core/tables/bounds.csv). Rows of before are left as they are: they are
-- not checked again, and one that cannot be judged is set aside.
alter table log
    add constraint bound_dial check (dial >= 0 and dial <= 10000000) not valid,
    add constraint bound_seq check (seq >= 0 and seq <= 1000000) not valid,
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_reason check (char_length(reason) <= 4000) not valid;
alter table event
    add constraint bound_dial_new check (dial_new >= 0 and dial_new <= 10000000) not valid,
    add constraint bound_litres_in check (litres_in >= 0 and litres_in <= 100000) not valid,
    add constraint bound_litres_drained check (litres_drained >= 0 and litres_drained <= 100000) not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid;
alter table draw
    add constraint bound_oil_change_dial check (oil_change_dial >= 0 and oil_change_dial <= 10000000) not valid,
    add constraint bound_top_up_l check (top_up_l >= 0 and top_up_l <= 100000) not valid,
    add constraint bound_level_on_stick check (level_on_stick >= -2 and level_on_stick <= 3) not valid,
    add constraint bound_analysed_on check (analysed_on between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_received_on check (received_on between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid;
alter table decision
    add constraint bound_until_dial check (until_dial >= 0 and until_dial <= 10000000) not valid,
    add constraint bound_until_on check (until_on between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_reason check (char_length(reason) <= 4000) not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid,
    add constraint bound_found check (char_length(found) <= 4000) not valid,
    add constraint bound_done check (char_length(done) <= 4000) not valid;
alter table raised_stop
    add constraint bound_dial check (dial >= 0 and dial <= 10000000) not valid,
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid;
alter table engine
    add constraint bound_interval_meter check (interval_meter > 0 and interval_meter <= 1000000) not valid,
    add constraint bound_nominal_drain_meter check (nominal_drain_meter > 0 and nominal_drain_meter <= 1000000) not valid,
    add constraint bound_interval_days check (interval_days >= 1 and interval_days <= 3650) not valid,
    add constraint bound_oil_total_l check (oil_total_l > 0 and oil_total_l <= 100000) not valid,
    add constraint bound_sump_l check (sump_l > 0 and sump_l <= 100000) not valid,
    add constraint bound_carry_over_frac check (carry_over_frac >= 0 and carry_over_frac <= 0.99) not valid,
    add constraint bound_dipstick_to_low_mm check (dipstick_to_low_mm >= 50 and dipstick_to_low_mm <= 3000) not valid,
    add constraint bound_in_service_on check (in_service_on between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_code check (char_length(code) <= 60) not valid;
alter table plan
    add constraint bound_every check (every > 0 and every <= 1000000) not valid,
    add constraint bound_every_days check (kind <> 'days' or every <= 3650) not valid;
alter table model
    add constraint bound_oil_total_l check (oil_total_l > 0 and oil_total_l <= 100000) not valid,
    add constraint bound_sump_l check (sump_l > 0 and sump_l <= 100000) not valid,
    add constraint bound_between_marks_l check (between_marks_l > 0 and between_marks_l <= 1000) not valid,
    add constraint bound_dipstick_to_low_mm check (dipstick_to_low_mm >= 50 and dipstick_to_low_mm <= 3000) not valid,
    add constraint bound_code check (char_length(code) <= 60) not valid;
alter table coolant
    add constraint bound_glycol_pct check (glycol_pct >= 0 and glycol_pct <= 100) not valid,
    add constraint bound_na_mg_kg check (na_mg_kg >= 0 and na_mg_kg <= 1000000) not valid,
    add constraint bound_k_mg_kg check (k_mg_kg >= 0 and k_mg_kg <= 1000000) not valid,
    add constraint bound_b_mg_kg check (b_mg_kg >= 0 and b_mg_kg <= 1000000) not valid,
    add constraint bound_si_mg_kg check (si_mg_kg >= 0 and si_mg_kg <= 1000000) not valid,
    add constraint bound_density_kg_l check (density_kg_l > 0 and density_kg_l <= 5) not valid,
    add constraint bound_code check (char_length(code) <= 60) not valid;
alter table reading
    add constraint bound_value check (value >= 0 and value <= 1000000000) not valid;
alter table limit_row
    add constraint bound_watch check (watch >= -1000000000 and watch <= 1000000000) not valid,
    add constraint bound_act check (act >= -1000000000 and act <= 1000000000) not valid;
alter table weight_row
    add constraint bound_seen check (seen >= -100 and seen <= 100) not valid,
    add constraint bound_absent check (absent >= -100 and absent <= 100) not valid;
alter table peer_row
    add constraint bound_n check (n >= 0 and n <= 1000000000) not valid,
    add constraint bound_mean check (mean >= -50 and mean <= 50) not valid,
    add constraint bound_median check (median >= -50 and median <= 50) not valid,
    add constraint bound_sd check (sd >= 0 and sd <= 1000) not valid,
    add constraint bound_factor check (factor >= 0 and factor <= 1000) not valid;
alter table look_count
    add constraint bound_count check (count >= 0 and count <= 1000000) not valid,
    add constraint bound_mass_mg check (mass_mg >= 0 and mass_mg <= 1000000) not valid;
alter table look
    add constraint bound_pleats check (pleats >= 1 and pleats <= 10000) not valid,
    add constraint bound_area_cm2 check (area_cm2 > 0 and area_cm2 <= 1000000) not valid,
    add constraint bound_area_total_cm2 check (area_total_cm2 > 0 and area_total_cm2 <= 1000000) not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid;
alter table outcome
    add constraint bound_hours_down check (hours_down >= 0 and hours_down <= 1000000) not valid,
    add constraint bound_cost check (cost >= 0 and cost <= 1000000000000) not valid,
    add constraint bound_saved check (saved >= 0 and saved <= 1000000000000) not valid,
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid;
alter table depot
    add constraint bound_walking_order check (walking_order >= 0 and walking_order <= 1000000) not valid,
    add constraint bound_daily_capacity check (daily_capacity >= 0 and daily_capacity <= 100000) not valid,
    add constraint bound_code check (char_length(code) <= 60) not valid;
alter table report
    add constraint bound_revision check (revision >= 1 and revision <= 1000) not valid,
    add constraint bound_analysed_on check (analysed_on between '1950-01-01' and '2199-12-31') not valid;
alter table oil_batch
    add constraint bound_reference_on check (reference_on between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_oil check (char_length(oil) <= 60) not valid;
alter table bottle_step
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid,
    add constraint bound_note check (char_length(note) <= 4000) not valid;
alter table parked
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid;
alter table reference_bottle
    add constraint bound_on_date check (on_date between '1950-01-01' and '2199-12-31') not valid;
alter table person
    add constraint bound_name check (char_length(name) <= 60) not valid;
alter table sample
    add constraint bound_code check (char_length(code) <= 60) not valid;
alter table answer
    add constraint bound_reason check (char_length(reason) <= 4000) not valid;

-- The gate for decisions (core/status/gate.py), held by the database too; and where a decision came from.
alter table decision add source_id integer references source;
alter table decision add constraint decision_fields check (case kind
    when 'sign_off' then sample_id is not null and proposed is not null and level is not null and btrim(basis) <> ''
        and run_state is null and accepted is null and (level = proposed or btrim(reason) <> '')
    when 'run' then engine_id is not null and run_state is not null and level is null and proposed is null
        and accepted is null and btrim(reason || found) <> ''
        and (run_state = 'restrict') = (until_dial is not null or until_on is not null)
    when 'amendment' then report_id is not null and accepted is not null and level is null and run_state is null
    when 'withdraw' then sample_id is not null and supersedes is not null and level is null and run_state is null
        and accepted is null
    end) not valid;
alter table decision add constraint decision_when check (decided_at between '1950-01-01' and '2199-12-31') not valid;
alter table decision add constraint decision_who check (btrim(decided_by) <> '') not valid;
create or replace view decision_now as
    select d.* from decision d
    where not exists (select 1 from decision later where later.supersedes = d.id);

-- A key sent with a post belongs to a person, a route and what was sent.
alter table idempotency add mark text not null default '';
-- Names this installation: its cookie, its backups.
insert into setting (key, value) values ('installation', to_jsonb(substr(md5(random()::text || clock_timestamp()), 1, 8)))
on conflict (key) do nothing;
