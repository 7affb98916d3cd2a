-- What a sign-in at the outside system by browser gave, sealed, and who signed in there.
alter table connection add column tokens varchar(64000) default '' not null;
alter table connection add column signed_in_by varchar(200) default '' not null;
alter table connection add column signed_in_at timestamp(6) with time zone;
