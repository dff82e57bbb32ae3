-- What is wanted of an export, as one document.
alter table exports add column wish jsonb;
update exports set wish = jsonb_strip_nulls(jsonb_build_object(
    'cells', cells, 'tile', tile, 'layers', to_jsonb(layers), 'mesh', mesh));
alter table exports alter column wish set not null;
alter table exports drop column cells, drop column tile, drop column layers, drop column mesh;

-- What other programs take, beside what ships with the product.
create table targets (
    id uuid primary key,
    name text not null unique,
    target jsonb not null,
    created_at timestamptz not null default now()
);
