-- Whether those who are asked have been told by mail or chat, where that is wanted; those of earlier versions count as told.
alter table approval add told boolean default true not null;
create index approval_to_tell on approval (told, state);

-- A mail to somebody about an approval: one that asks, or one that says what came of their answer.
create table approval_mail (
  id varchar(60) not null primary key,
  approval_id varchar(80) not null,
  person varchar(60) not null,
  digest varchar(64) not null,
  says varchar(2000) not null,
  expires timestamp(6) with time zone not null,
  state varchar(20) not null,
  moved timestamp(6) with time zone not null,
  detail varchar(1000) default '' not null,
  used timestamp(6) with time zone
);
create index approval_mail_by_state on approval_mail (state, moved);
create index approval_mail_by_approval on approval_mail (approval_id);

-- Whether something has to hold for it to be asked, which is looked at now and then.
alter table approval add watched boolean default false not null;
create index approval_watched on approval (watched, state);
