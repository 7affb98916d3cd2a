-- How many calls may be under way over a connection at the same time.
alter table connection add column at_once int default 8 not null;
