-- How often an export was begun: one that ends its service each time is given up.
alter table exports add column attempts integer not null default 0;
