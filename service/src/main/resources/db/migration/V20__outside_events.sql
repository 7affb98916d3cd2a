-- What outside systems have posted: each once, with what became of it. What it said is kept for a while only.
create table outside_event (
    id char(64) primary key,
    intake varchar(60) not null,
    received timestamp(6) with time zone not null,
    sender varchar(100) not null,
    source varchar(500) not null,
    named varchar(500) not null,
    became varchar(20) not null,
    case_id varchar(20) not null,
    reason varchar(1000) not null,
    size int not null
);
create index outside_event_by_intake on outside_event (intake, received);
create index outside_event_by_time on outside_event (received);
create table event_payload (
    event_id char(64) primary key,
    payload varchar(300000) not null,
    received timestamp(6) with time zone not null
);
create index event_payload_by_time on event_payload (received);

-- Messages about a case that were only counted.
create table case_repeat (
    case_id varchar(20) not null,
    intake varchar(60) not null,
    said char(64) not null,
    since timestamp(6) with time zone not null,
    latest timestamp(6) with time zone not null,
    times bigint not null,
    primary key (case_id, intake)
);

-- Messages that weren't from whom they had to be, by the hour.
create table hook_refusal (
    intake varchar(60) not null,
    since timestamp(6) with time zone not null,
    reason varchar(200) not null,
    times bigint not null,
    latest timestamp(6) with time zone not null,
    primary key (intake, since, reason)
);
