-- Peers also say what the engines of one depot shared in one month (kind 'neighbours'): road salt, harvest dust.
alter table peer_row drop constraint peer_row_kind_check;
alter table peer_row add constraint peer_row_kind_check
    check (kind in ('model', 'class', 'engine', 'laboratories', 'season', 'neighbours', 'duty', 'rise'));
