-- Who answers approvals for somebody who is away; one at a time for each.
create table deputy (
  person varchar(60) not null primary key,
  deputy varchar(60) not null,
  since timestamp(6) with time zone not null,
  until timestamp(6) with time zone not null,
  set_by varchar(60) not null
);
create index deputy_by_deputy on deputy (deputy, until);

-- By which way an answer came, and for whom it was given besides whoever gave it (names with blanks between).
alter table approval_answer add via varchar(20) default '' not null;
alter table approval_answer add stands_in_for varchar(1000) default '' not null;

-- To whom somebody who is asked handed it, who may answer as well.
alter table approval add handed_to varchar(60);
