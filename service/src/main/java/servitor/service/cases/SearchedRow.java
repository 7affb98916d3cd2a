package servitor.service.cases;

/** What of a case is searched, and who may find it. */
record SearchedRow(long number, String id, String desk, String requester, String subject, String text) {}
