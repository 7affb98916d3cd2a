package servitor.service.editions;

/** A file of an edition. */
public record FileRow(String path, String text) {}
