-- Runs are listed by when they began.
create index run_by_creation on run (created desc, id desc);
