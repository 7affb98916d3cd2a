-- How what is said of a case came or went out, and what a mail became.
alter table case_record add column channel varchar(20) default 'note' not null;
update case_record set channel = 'mail' where id in (select case_id from mail where case_id <> '');
alter table note add column channel varchar(20) default 'note' not null;
alter table note add column told varchar(200) default '' not null;
alter table note add column proof varchar(20) default '' not null;
alter table note add column mail varchar(64) default '' not null;
create index note_by_told on note (told, at);
alter table mail add column message_id varchar(500) default '' not null;
alter table mail add column refs varchar(8000) default '' not null;
alter table mail add column became varchar(20) default 'case' not null;
alter table mail add column digest varchar(64) default '' not null;
create index mail_by_digest on mail (digest);
create index mail_by_sender on mail (sender, received);
create table case_person (
    case_id varchar(20) not null,
    person varchar(60) not null,
    named_by varchar(60) not null,
    at timestamp(6) with time zone not null,
    primary key (case_id, person)
);
create table acknowledgement (
    case_id varchar(20) primary key,
    intake varchar(60) not null,
    requester varchar(60) not null,
    at timestamp(6) with time zone not null,
    state varchar(20) not null,
    detail varchar(1000) not null
);
create index acknowledgement_by_state on acknowledgement (state, at);
create index acknowledgement_by_requester on acknowledgement (requester, at);
