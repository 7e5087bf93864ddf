-- A meter or a volume that is no number is refused by the database too: NaN is above every figure, so ">= 0" let it pass.
alter table log add constraint log_dial_number check (dial < 'infinity');
alter table event add constraint event_dial_number check (dial_new < 'infinity');
alter table event add constraint event_litres_number check (litres_in < 'infinity' and litres_drained < 'infinity');
alter table draw add constraint draw_numbers check (top_up_l < 'infinity' and oil_change_dial < 'infinity'
    and level_on_stick < 'infinity');
