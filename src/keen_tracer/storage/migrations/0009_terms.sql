-- One word for one thing: what waits to be judged is a queue, what happened once is a milestone.
alter table stale rename to judging_queue;
alter table happened rename to milestone;

-- The page wrote "power" where the core knew "power_down". A symptom outside the vocabulary of that day said
-- nothing to the judgement: its text becomes the note of "other", so that nothing written down is lost.
update event set part = 'power_down' where part = 'power'
    and exists (select 1 from log l where l.id = log_id and l.kind = 'symptom');
update event set note = concat_ws(': ', part, nullif(note, '')), part = 'other'
    where exists (select 1 from log l where l.id = log_id and l.kind = 'symptom')
    and part <> '' and part not in (
        'knock', 'low_oil_pressure_hot', 'oil_lamp_hot_idle', 'coolant_in_sump', 'level_rising',
        'level_rising_coolant', 'bearing_flakes', 'chunks', 'part_fragment', 'filter_collapsed', 'pickup_blocked',
        'noise', 'oil_pressure', 'smoke', 'blow_by', 'power_down', 'coolant_use', 'level_falling', 'other');
update event set part = 'other' where part = ''
    and exists (select 1 from log l where l.id = log_id and l.kind = 'symptom');

-- Tools that opened a filter are of a vocabulary too; another word goes to the note.
update look set tool = 'roller_cutter' where lower(tool) in ('roller cutter', 'roller-cutter', 'cutter');
update look set tool = lower(tool) where lower(tool) in ('saw', 'snips', 'wipe');
update look set note = concat_ws(': ', tool, nullif(note, '')), tool = ''
    where tool not in ('', 'roller_cutter', 'snips', 'saw', 'wipe');
