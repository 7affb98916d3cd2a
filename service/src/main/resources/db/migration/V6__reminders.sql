-- Reminders fall due among very many approvals that wait.
create index approval_by_reminder on approval (state, remind_at);
