-- How the land of an export is put into triangles, when that is among its files.
alter table exports add column mesh jsonb;
create index exports_of_landscape on exports (landscape, created_at desc);
