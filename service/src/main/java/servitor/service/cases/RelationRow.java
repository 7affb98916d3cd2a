package servitor.service.cases;

/** What one case has to do with another. */
public record RelationRow(String caseId, String what, String other) {}
