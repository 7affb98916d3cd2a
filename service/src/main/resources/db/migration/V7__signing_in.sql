-- How connections sign in: what may be shown of it, and the credentials themselves, encrypted with a key that is kept elsewhere.
alter table connection add column sign_in varchar(400) default '' not null;
alter table connection add column sealed varchar(8000) default '' not null;
-- Connections that were set before could lead anywhere, and go on doing so.
alter table connection add column inside boolean default true not null;
