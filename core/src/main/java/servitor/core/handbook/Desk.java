package servitor.core.handbook;

/** A team that owns cases of its own. */
public record Desk(String name, String title) {}
