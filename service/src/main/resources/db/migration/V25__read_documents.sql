-- What came of reading a document; empty for those that came before documents were read.
alter table document add column outcome varchar(20) default '' not null;
alter table document add column pages int default 0 not null;
-- What was read, by the digest of the file, so that the same file is read once.
create table document_reading (
    digest char(64) primary key,
    at timestamp(6) with time zone not null,
    read clob not null
);
