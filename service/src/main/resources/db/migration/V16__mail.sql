-- Where reading stands in each mailbox, and every mail that was read, with what became of it and all of its bytes.
create table mailbox (
    intake varchar(60) primary key,
    place varchar(500) not null,
    validity bigint not null,
    uid bigint not null,
    looked timestamp(6) with time zone not null,
    trouble varchar(1000) not null
);
create table mail (
    id char(64) primary key,
    intake varchar(60) not null,
    received timestamp(6) with time zone not null,
    sender varchar(400) not null,
    subject varchar(1000) not null,
    proof varchar(20) not null,
    case_id varchar(20) not null,
    reason varchar(1000) not null,
    content blob not null
);
create index mail_by_case on mail (case_id, received);
create index mail_by_intake on mail (intake, received);
