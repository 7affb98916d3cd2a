package servitor.service.cases;

/** What somebody asked for under a key, as a digest, and the case it opened. */
public record RequestKeyRow(String digest, String caseId) {}
