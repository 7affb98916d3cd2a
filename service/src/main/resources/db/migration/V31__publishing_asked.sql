-- Handbooks that somebody wants to publish and others have to agree to first.
create table publish_wish (
  digest char(64) not null primary key,
  person varchar(60) not null,
  note varchar(2000) not null,
  files clob not null,
  asked timestamp(6) with time zone not null,
  state varchar(20) not null,
  answered_by varchar(60) not null,
  reason varchar(2000) not null
);
create index publish_wish_by_state on publish_wish (state, asked);
