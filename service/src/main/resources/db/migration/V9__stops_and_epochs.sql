-- Each installation, and each time it is restored, has an epoch of its own: the keys of its calls hold it.
create table installation (one int primary key check (one = 1), epoch varchar(20) not null);
alter table command add column outside_key varchar(80) default '' not null;
-- What came of work that its run couldn't take in.
alter table command add column outcome varchar(1000000);

-- What stands still at once, until somebody lets it go on.
create table emergency_stop (
    what varchar(20) not null,
    name varchar(100) not null,
    reason varchar(2000) not null,
    stopped_by varchar(60) not null,
    at timestamp(6) with time zone not null,
    primary key (what, name)
);

-- People who may not sign in any more; sessions that began before signed_out have ended.
alter table person add column disabled timestamp(6) with time zone;
alter table person add column signed_out timestamp(6) with time zone;

-- An approval's time stands still while its run is paused.
alter table approval add column held boolean default false not null;
alter table approval add column held_millis bigint default 0 not null;
-- What was shown beside it, as it was then; older ones have none.
create table approval_evidence (approval_id varchar(60) primary key references approval on delete cascade, evidence varchar(1000000) not null);

-- An engineer of a desk agrees to what somebody else publishes of that desk.
create table consent (
    digest char(64) not null,
    desk varchar(60) not null,
    person varchar(60) not null,
    at timestamp(6) with time zone not null,
    primary key (digest, desk)
);
