-- Revisions that the artist gave a name, to come back to or to compare with.
create table moments (
    id uuid primary key,
    landscape uuid not null references landscapes on delete cascade,
    revision bigint not null references revisions on delete cascade,
    name text not null,
    created_at timestamptz not null default now()
);

create index moments_of_landscape on moments (landscape);
