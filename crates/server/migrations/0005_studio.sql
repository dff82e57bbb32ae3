-- Who made an edit, as far as they said; and the version of the format that document
-- and patch are in. A patch fits only a base in its own.
alter table revisions
    add column author text not null default '',
    add column format integer not null default 1;

-- What the shelf keeps of a landscape. One that is deleted stays for a while, so that it
-- can be brought back.
alter table landscapes
    add column opened_at timestamptz,
    add column deleted_at timestamptz,
    add column tags text[] not null default '{}';
create index landscapes_deleted on landscapes (deleted_at) where deleted_at is not null;
