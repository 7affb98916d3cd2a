-- When each schedule has fired last; one whose times are others begins anew.
create table schedule (
    intake varchar(60) primary key,
    cron varchar(100) not null,
    fired timestamp(6) with time zone not null
);
