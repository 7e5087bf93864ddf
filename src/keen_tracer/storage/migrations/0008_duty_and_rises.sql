-- Peers also say what duty adds (kind 'duty': slope of y on ln of the meter per day over the engine's usual), and how much
-- rises within a charge scatter (kind 'rise': the factor of a class).
alter table peer_row drop constraint peer_row_kind_check;
alter table peer_row add constraint peer_row_kind_check
    check (kind in ('model', 'class', 'engine', 'laboratories', 'season', 'duty', 'rise'));
