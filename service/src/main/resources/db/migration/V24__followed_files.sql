-- How far each file is read that an intake follows: what was read, and until where is being read.
create table followed_file (
    intake varchar(60) primary key,
    path varchar(1000) not null,
    file_key varchar(200) not null,
    read_to bigint not null,
    reading_to bigint not null,
    looked timestamp(6) with time zone not null,
    trouble varchar(1000) default '' not null
);
