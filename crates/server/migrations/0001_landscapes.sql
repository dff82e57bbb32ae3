-- A landscape is a chain of revisions; `head` is the one that is current.
create table landscapes (
    id uuid primary key,
    head bigint not null,
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now()
);

-- Every edit, for ever: undo goes to `parent`, redo to `redo_to`. An edit after
-- an undo starts a new branch; the old one stays.
create table revisions (
    id bigint generated always as identity primary key,
    landscape uuid not null references landscapes on delete cascade deferrable initially deferred,
    parent bigint references revisions on delete cascade,
    redo_to bigint,
    label text not null,
    recipe json not null,
    created_at timestamptz not null default now()
);

create index revisions_of_landscape on revisions (landscape);

alter table landscapes
    add constraint landscapes_head foreign key (head) references revisions
    deferrable initially deferred;

-- Imported files, whole, named by their content.
create table assets (
    id text primary key,
    name text not null,
    bytes bytea not null,
    created_at timestamptz not null default now()
);

-- Exports. The files themselves can be made again and live in the cache folder.
create table exports (
    id uuid primary key,
    landscape uuid not null references landscapes on delete cascade,
    revision bigint not null references revisions on delete cascade,
    state text not null check (state in ('running', 'done', 'failed', 'stopped')),
    message text,
    created_at timestamptz not null default now()
);
