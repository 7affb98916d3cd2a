-- When a case is to be done with; whether somebody has still to see whether it is late then; and since when it was, if it was.
alter table case_record add column due timestamp(6) with time zone;
alter table case_record add column due_unseen timestamp(6) with time zone;
alter table case_record add column late_since timestamp(6) with time zone;
create index case_by_due_unseen on case_record (due_unseen);
create index case_by_late_since on case_record (late_since);
