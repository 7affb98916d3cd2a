-- Who is asked by an approval: groups, desks, or people as person:ID. Lists look here, so that rights come before any limit.
create table approval_asked (
    approval_id varchar(60) not null references approval on delete cascade,
    name varchar(80) not null,
    primary key (approval_id, name)
);
create index approval_by_asked on approval_asked (name, approval_id);
create index approval_by_closing on approval (closed desc, id);
create index case_by_state on case_record (state, number desc);
