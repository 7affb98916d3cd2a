package servitor.core.handbook;

/** One checked, published, numbered, immutable handbook. */
public record Edition(int number, Handbook handbook) {}
