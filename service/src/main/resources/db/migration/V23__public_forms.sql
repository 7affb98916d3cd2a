-- What people asked by a form who can't sign in, until they have confirmed it by mail and it is a case.
create table public_form (
    id varchar(60) primary key,
    kind varchar(60) not null,
    name varchar(120) not null,
    address varchar(320) not null,
    came_from varchar(64) not null,
    received timestamp(6) with time zone not null,
    asked clob not null,
    state varchar(20) not null,
    moved timestamp(6) with time zone not null,
    detail varchar(1000) default '' not null,
    case_id varchar(20)
);
create index public_form_by_state on public_form (state, moved);
create index public_form_by_received on public_form (received);
create index public_form_by_address on public_form (address, received);
create index public_form_by_origin on public_form (came_from, received);
