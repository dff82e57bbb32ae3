-- Revisions are counted for each landscape from 1, and named by that number
-- everywhere; `id` only tells in which order all of them came.
alter table revisions add column number bigint;
update revisions set number = counted.number
from (select id, row_number() over (partition by landscape order by id) as number from revisions) counted
where counted.id = revisions.id;

alter table landscapes drop constraint landscapes_head;
alter table revisions drop constraint revisions_parent_fkey;
alter table moments drop constraint moments_revision_fkey;
alter table exports drop constraint exports_revision_fkey;

update landscapes set head = r.number from revisions r where r.id = landscapes.head;
update moments set revision = r.number from revisions r where r.id = moments.revision;
update exports set revision = r.number from revisions r where r.id = exports.revision;
update revisions set parent = p.number from revisions p where p.id = revisions.parent;
update revisions set redo_to = n.number from revisions n where n.id = revisions.redo_to;

set constraints all immediate;
alter table revisions alter column number set not null;
drop index revisions_of_landscape;
create unique index revisions_of_landscape on revisions (landscape, number);
alter table revisions add constraint revisions_parent
    foreign key (landscape, parent) references revisions (landscape, number) on delete cascade;
alter table moments add constraint moments_revision
    foreign key (landscape, revision) references revisions (landscape, number) on delete cascade;
alter table exports add constraint exports_revision
    foreign key (landscape, revision) references revisions (landscape, number) on delete cascade;

-- A revision is kept as the patch (RFC 6902) that made it from its parent. Now and
-- then it has the whole document as well: as soon as the patches since the last one
-- that had, `patched` bytes of them, are as long as the document itself. So storage
-- grows with what was typed, and no document is far from its patches.
alter table revisions rename column recipe to snapshot;
alter table revisions alter column snapshot drop not null;
alter table revisions add column patch json;
alter table revisions add column patched bigint not null default 0;
alter table revisions add constraint revisions_known
    check (snapshot is not null or (patch is not null and parent is not null));

-- The document at the head, whole, and what the shelf shows of it: neither opening
-- a landscape nor listing all of them goes through its history. `version` counts the
-- moves of the head, undo and redo included; `made` the revisions.
alter table landscapes
    add column document json,
    add column version bigint not null default 0,
    add column made bigint not null default 0,
    add column name text not null default '',
    add column width_m double precision not null default 0,
    add column depth_m double precision not null default 0,
    add column steps integer not null default 0;
update landscapes set
    document = r.snapshot,
    name = coalesce(r.snapshot ->> 'name', ''),
    width_m = coalesce((r.snapshot #>> '{extent,width_m}')::double precision, 0),
    depth_m = coalesce((r.snapshot #>> '{extent,depth_m}')::double precision, 0),
    steps = (select coalesce(sum(json_array_length(strand -> 'steps')), 0)
             from json_array_elements(r.snapshot -> 'strands') strand)
from revisions r where r.landscape = landscapes.id and r.number = landscapes.head;
update landscapes set
    version = (select count(*) from revisions r where r.landscape = landscapes.id),
    made = (select max(number) from revisions r where r.landscape = landscapes.id);
alter table landscapes alter column document set not null;
alter table landscapes add constraint landscapes_head
    foreign key (id, head) references revisions (landscape, number) deferrable initially deferred;

-- An export is taken up by one service, which says again and again that it is alive.
-- Whoever finds one that nobody has been alive for begins it anew.
alter table exports drop constraint exports_state_check;
alter table exports add constraint exports_state_check
    check (state in ('queued', 'running', 'done', 'failed', 'stopped', 'expired'));
alter table exports
    add column cells integer not null default 0,
    add column tile integer,
    add column layers text[] not null default '{}',
    add column taken_by uuid,
    add column alive_at timestamptz,
    add column stopping boolean not null default false,
    add column share real not null default 0,
    add column bytes bigint not null default 0,
    add column ended_at timestamptz;
update exports set state = 'failed', message = 'the service was stopped meanwhile; please export again'
where state = 'running';
update exports set ended_at = created_at where state <> 'running';
create index exports_to_do on exports (created_at) where state in ('queued', 'running');
