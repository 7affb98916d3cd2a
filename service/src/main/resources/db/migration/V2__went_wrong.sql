-- What went wrong and waits for a person to see to it; seen_by is empty until somebody has.
create table went_wrong (
    id varchar(100) primary key,
    what varchar(20) not null,
    case_id varchar(20) not null references case_record,
    run_id varchar(20) not null references run,
    work varchar(60) not null,
    step varchar(300) not null,
    problem varchar(60) not null,
    detail varchar(100000) not null,
    at timestamp(6) with time zone not null,
    seen_by varchar(60) not null,
    how varchar(20) not null,
    seen timestamp(6) with time zone
);
create index went_wrong_open on went_wrong (seen_by, at);
create index went_wrong_by_run on went_wrong (run_id);
