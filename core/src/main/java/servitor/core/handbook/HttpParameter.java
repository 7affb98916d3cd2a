package servitor.core.handbook;

/**
 * Where an input of an HTTP operation goes beside the body, and how it is written (OpenAPI 3.1.1, section 4.8.12; the styles are
 * those of RFC 6570).
 *
 * @param input the tool's input
 * @param name what it is called in the request
 * @param explode whether each item or member is written as one of its own
 */
public record HttpParameter(String input, String name, In in, Style style, boolean explode) {
    /** The part of the request. */
    public enum In {
        PATH,
        QUERY,
        HEADER
    }

    /** How lists and objects are written. */
    public enum Style {
        /** {@code 3,4,5} */
        SIMPLE,
        /** {@code .3.4.5} */
        LABEL,
        /** {@code ;id=3;id=4} */
        MATRIX,
        /** {@code id=3&id=4} or {@code id=3,4} */
        FORM,
        /** {@code id=3%204} */
        SPACE_DELIMITED,
        /** {@code id=3%7C4} */
        PIPE_DELIMITED,
        /** {@code id[role]=admin} */
        DEEP_OBJECT,
        /** As JSON, whatever it is. */
        JSON
    }
}
