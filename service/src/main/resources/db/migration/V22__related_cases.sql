-- Who is to see to a case (a group, or person:ID; empty for its desk), and the case that it was opened for by a step.
alter table case_record add column owner varchar(80) default '' not null;
alter table case_record add column opened_for varchar(20);
create index case_by_owner on case_record (owner, number desc);
create index case_by_opened_for on case_record (opened_for);
-- What the page of a case gave whoever had the case opened.
create table case_gave (
    case_id varchar(20) primary key references case_record,
    gave clob not null
);
