package servitor.core.document;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** What sort of file is meant, in a word of pages and kinds: several media types each. */
public enum FileType {
    SPREADSHEET(
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            "application/vnd.ms-excel",
            "application/vnd.ms-excel.sheet.macroenabled.12",
            "application/vnd.oasis.opendocument.spreadsheet",
            "text/csv"),
    PDF("application/pdf"),
    LETTER(
            "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
            "application/msword",
            "application/vnd.oasis.opendocument.text",
            "application/rtf",
            "text/plain",
            "text/html"),
    MAIL("message/rfc822", "application/vnd.ms-outlook"),
    PICTURE("image/");

    private final List<String> mediaTypes;

    FileType(String... mediaTypes) {
        this.mediaTypes = List.of(mediaTypes);
    }

    /** The word pages write. */
    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }

    /** All of them, as pages write them. */
    public static List<String> words() {
        return Stream.of(values()).map(FileType::word).toList();
    }

    public static Optional<FileType> of(String word) {
        return Stream.of(values()).filter(type -> type.word().equals(word)).findFirst();
    }

    /** Whether {@code mediaType} is of the sort that {@code word} means; any word that isn't one of these is a media type itself. */
    public static boolean fits(String word, String mediaType) {
        return of(word).map(type -> type.mediaTypes.stream().anyMatch(mediaType::startsWith))
                .orElseGet(() -> mediaType.equalsIgnoreCase(word));
    }
}
