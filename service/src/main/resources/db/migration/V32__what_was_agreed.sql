-- What a mail said that asked about an approval: it may stand below an answer without saying anything. Those of earlier versions didn't keep it.
alter table approval_mail add told varchar(200000) default '' not null;

-- The desk that a connection belongs to, or 'house'; of those of earlier versions it isn't known.
alter table connection add desk varchar(60) default '' not null;
