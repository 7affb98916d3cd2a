-- What staff call a case, which a page may set; the requester's subject stays. Empty for none.
alter table case_record add column title varchar(200) default '' not null;
