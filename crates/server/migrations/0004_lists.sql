-- Long lists of points are kept once for a landscape, by the hash of what is in
-- them; documents and patches have the name. One that was sent ahead of an edit
-- that never came is `used` by nothing, and goes after a while.
create table lists (
    landscape uuid not null references landscapes (id) on delete cascade,
    name text not null,
    points json not null,
    used boolean not null,
    made_at timestamptz not null default now(),
    primary key (landscape, name)
);
create index lists_unused on lists (made_at) where not used;

-- Whoever makes an edit marks it: one that is sent again, because its answer was
-- lost, is not made twice.
alter table revisions add column mark uuid;
create unique index revisions_marked on revisions (landscape, mark) where mark is not null;
