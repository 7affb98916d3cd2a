-- What has been used of the limits of grants: by calls that nobody was asked about, and beside them by those people approved.
create table counter (name varchar(1000) primary key, alone decimal(30, 9) not null, beside decimal(30, 9) not null);
create table charge (
    work varchar(60) not null,
    counter varchar(1000) not null references counter,
    amount decimal(30, 9) not null,
    alone boolean not null,
    primary key (work, counter)
);
-- Whether any try of a command may have reached the outside system; of those there are, nobody knows any more.
alter table command add column sent boolean default true not null;
