-- Each connection has its own line of waiting work, so that a slow one holds up no other.
-- Work from before doesn't know its connection; it isn't counted against its limit.
alter table command add column connection varchar(60) default '' not null;
create index command_by_connection on command (state, connection, due);
drop index command_by_state;
