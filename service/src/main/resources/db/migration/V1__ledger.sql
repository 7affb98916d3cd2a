-- JSON is kept in VARCHAR: the JSON type rewrites white space, which would break digests, and CLOB is slow to read.

create table person (
    id varchar(60) primary key,
    name varchar(200) not null,
    email varchar(320) not null,
    account varchar(100) not null,
    password varchar(200),
    roles varchar(200) not null,
    created timestamp(6) with time zone not null,
    manager varchar(60) not null
);
create table person_desk (person varchar(60) not null references person, desk varchar(60) not null, primary key (person, desk));
create table person_group (person varchar(60) not null references person, name varchar(60) not null, primary key (person, name));
create table token (
    hash char(64) primary key,
    person varchar(60) not null references person,
    label varchar(100) not null,
    created timestamp(6) with time zone not null,
    expires timestamp(6) with time zone not null
);

create table connection (name varchar(60) primary key, url varchar(500) not null);

create table edition (
    number int primary key,
    digest char(64) not null,
    note varchar(2000) not null,
    published_by varchar(60) not null,
    published timestamp(6) with time zone not null
);
create table edition_file (edition int not null references edition, path varchar(300) not null, text varchar(1000000) not null, primary key (edition, path));

-- What one person has changed and not published yet; a null text is a file taken out.
create table draft_file (
    person varchar(60) not null references person,
    path varchar(300) not null,
    text varchar(1000000),
    base char(64) not null,
    updated timestamp(6) with time zone not null,
    primary key (person, path)
);

create sequence case_number start with 1001;
create table case_record (
    id varchar(20) primary key,
    number bigint not null unique,
    desk varchar(60) not null,
    kind varchar(60) not null,
    requester varchar(60) not null,
    proof varchar(20) not null,
    opened_by varchar(60) not null,
    subject varchar(300) not null,
    text varchar(100000) not null,
    language varchar(20) not null,
    priority varchar(20) not null,
    labels varchar(2000) not null,
    fields varchar(200000) not null,
    state varchar(20) not null,
    waiting_for varchar(1000),
    created timestamp(6) with time zone not null,
    updated timestamp(6) with time zone not null,
    version int not null
);
create index case_by_desk on case_record (desk, number desc);
create index case_by_requester on case_record (requester, number desc);
create table request_key (person varchar(60) not null, request_key varchar(100) not null, digest char(64) not null, case_id varchar(20) not null, primary key (person, request_key));

create table note (
    id varchar(60) primary key,
    case_id varchar(20) not null references case_record,
    at timestamp(6) with time zone not null,
    author varchar(80) not null,
    audience varchar(20) not null,
    written boolean not null,
    text varchar(100000) not null
);
create index note_by_case on note (case_id, at);

create table document (
    id varchar(60) primary key,
    case_id varchar(20) not null references case_record,
    at timestamp(6) with time zone not null,
    author varchar(80) not null,
    name varchar(200) not null,
    type varchar(100) not null,
    size int not null,
    digest char(64) not null,
    text varchar(1000000) not null,
    content varbinary(1000000) not null
);
create index document_by_case on document (case_id, at);
create table case_relation (
    case_id varchar(20) not null references case_record,
    what varchar(60) not null,
    other varchar(60) not null,
    primary key (case_id, what, other)
);

create sequence run_number start with 1001;
create table run (
    id varchar(20) primary key,
    case_id varchar(20) not null references case_record,
    edition int not null references edition,
    page varchar(100) not null,
    status varchar(20) not null,
    step varchar(300) not null,
    state varchar(1000000) not null,
    created timestamp(6) with time zone not null,
    updated timestamp(6) with time zone not null,
    version int not null,
    parent varchar(20) not null
);
create index run_by_case on run (case_id);
create index run_by_parent on run (parent);
create index run_by_status on run (status);

create table command (
    id varchar(60) primary key,
    run_id varchar(20) not null references run,
    kind varchar(20) not null,
    payload varchar(1000000) not null,
    state varchar(20) not null,
    owner varchar(60),
    lease_until timestamp(6) with time zone,
    attempts int not null,
    due timestamp(6) with time zone not null
);
create index command_by_state on command (state, due);
create index command_by_run on command (run_id, state);

create table approval (
    id varchar(60) primary key,
    run_id varchar(20) not null references run,
    case_id varchar(20) not null references case_record,
    request varchar(1000000) not null,
    digest char(64) not null,
    state varchar(20) not null,
    opened timestamp(6) with time zone not null,
    due timestamp(6) with time zone,
    closed timestamp(6) with time zone,
    version int not null,
    authors varchar(2000) not null,
    remind_at timestamp(6) with time zone,
    reminders int not null
);
create index approval_by_state on approval (state, due);
create index approval_by_case on approval (case_id);
create table approval_answer (
    approval_id varchar(60) not null references approval,
    person varchar(60) not null,
    says varchar(20) not null,
    reason varchar(20000) not null,
    texts varchar(200000) not null,
    form varchar(100000),
    for_groups varchar(2000) not null,
    at timestamp(6) with time zone not null,
    primary key (approval_id, person)
);

create table material (hash char(64) primary key, text varchar(1000000) not null);

create table trail (
    seq bigint primary key,
    at timestamp(6) with time zone not null,
    actor varchar(80) not null,
    case_id varchar(20) not null,
    run_id varchar(20) not null,
    step varchar(300) not null,
    what varchar(60) not null,
    digest char(64) not null,
    previous char(64) not null,
    hash char(64) not null
);
create index trail_by_case on trail (case_id, seq);
create table trail_data (seq bigint primary key references trail, salt char(32) not null, data varchar(1000000) not null);
create trigger trail_is_append_only before update, delete on trail for each row call 'servitor.service.ledger.AppendOnly';
create trigger trail_data_is_append_only before update, delete on trail_data for each row call 'servitor.service.ledger.AppendOnly';

create table trail_head (one int primary key check (one = 1), seq bigint not null, hash char(64) not null);
insert into trail_head values (1, 0, repeat('0', 64));
