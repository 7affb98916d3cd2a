-- Pages that somebody tries out on their draft: what they began with, and what they have answered so far.
create table page_try (
  id varchar(60) not null primary key,
  person varchar(60) not null,
  source varchar(20) not null,
  named varchar(200) not null,
  title varchar(500) not null,
  request clob not null,
  answers clob not null,
  for_real int default 0 not null,
  updated timestamp(6) with time zone not null
);
create index page_try_by_person on page_try (person, updated);
