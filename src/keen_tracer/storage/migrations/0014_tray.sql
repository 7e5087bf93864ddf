-- The tray: how much was seen and for how long it speaks, what nobody could count, small pictures, and lines measured on pictures.

alter table look
    add column pleats_total integer,
    add column both_sides boolean not null default true,
    add column drained_min double precision,
    add column hours double precision,
    add constraint bound_pleats_total check (pleats_total >= 1 and pleats_total <= 10000),
    add constraint bound_drained_min check (drained_min >= 0 and drained_min <= 100000),
    add constraint bound_hours check (hours >= 0 and hours <= 10000000);
alter table look_count add column amount text not null default '' check (amount in ('', 'dusting', 'covers'));
-- the same photograph, small; empty for those kept before
alter table attachment add column small bytea;

-- append-only: a line somebody drew on a photograph. `scale` lies along something of known size; a `particle` is measured by the
-- newest scale of its photograph; `withdraw` takes an earlier line back.
create table picture_line (
    id uuid primary key,
    photo_id uuid not null references photo,
    kind text not null check (kind in ('scale', 'particle', 'withdraw')),
    type text not null default '',
    x1 double precision,
    y1 double precision,
    x2 double precision,
    y2 double precision,
    known_mm double precision,
    known_sd_mm double precision,
    known_from text not null default '',
    withdraws uuid references picture_line,
    drawn_by text not null check (drawn_by <> ''),
    drawn_at timestamptz not null default now(),
    check ((kind = 'withdraw') = (withdraws is not null)),
    check ((kind = 'withdraw') = (x1 is null)),
    check ((kind = 'scale') = (known_mm is not null)),
    constraint bound_x1 check (x1 >= 0 and x1 <= 100000),
    constraint bound_y1 check (y1 >= 0 and y1 <= 100000),
    constraint bound_x2 check (x2 >= 0 and x2 <= 100000),
    constraint bound_y2 check (y2 >= 0 and y2 <= 100000),
    constraint bound_known_mm check (known_mm > 0 and known_mm <= 10000),
    constraint bound_known_sd_mm check (known_sd_mm >= 0 and known_sd_mm <= 1000)
);
create index picture_line_photo on picture_line (photo_id);
