-- Finished runs and long texts move out of the database after a set time; a slim run stays behind.
alter table run add column moved_out boolean default false not null;
create index run_to_move_out on run (moved_out, updated);
alter table material add column kept timestamp(6) with time zone default current_timestamp not null;
create index material_by_time on material (kept);
