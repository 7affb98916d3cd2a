-- What is long and doesn't change has tables of its own, so that a change of state doesn't write it again.
create table command_payload (command_id varchar(60) primary key, payload varchar(1000000) not null);
insert into command_payload (command_id, payload) select id, payload from command;
alter table command drop column payload;

create table case_text (case_id varchar(20) primary key, text varchar(100000) not null);
insert into case_text (case_id, text) select id, text from case_record;
alter table case_record drop column text;

-- Approvals of early versions kept nothing of what was shown beside them.
create table approval_shown (approval_id varchar(60) primary key, request varchar(1000000) not null, evidence varchar(1000000));
insert into approval_shown (approval_id, request, evidence)
    select a.id, a.request, e.evidence from approval a left join approval_evidence e on e.approval_id = a.id;
drop table approval_evidence;
alter table approval drop column request;
