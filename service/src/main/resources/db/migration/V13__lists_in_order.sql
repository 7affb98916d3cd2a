-- Lists are read in their own order, so that a part of them costs no more than it holds.
create index run_by_status_in_time on run (status, created desc, id desc);
drop index run_by_status;
create index run_by_page_in_time on run (page, created desc, id desc);
create index approval_in_order_of_closing on approval (closed desc, id desc);
drop index approval_by_closing;
