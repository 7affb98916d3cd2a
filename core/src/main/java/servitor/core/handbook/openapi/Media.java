package servitor.core.handbook.openapi;

import java.util.Locale;
import java.util.regex.Pattern;
import servitor.core.handbook.HttpBody.Form;

/** The media types that bodies are sent as; what comes first is taken where a description leaves the choice. */
enum Media {
    JSON(Form.JSON, "application/([a-z0-9.+-]+\\+)?json|\\*/\\*|application/\\*"),
    URLENCODED(Form.URLENCODED, "application/x-www-form-urlencoded"),
    MULTIPART(Form.MULTIPART, "multipart/form-data"),
    TEXT(Form.TEXT, "text/.*"),
    FILE(Form.FILE, "application/(octet-stream|pdf|zip)|(image|audio|video)/.*");

    private final Form form;
    private final Pattern types;

    Media(Form form, String types) {
        this.form = form;
        this.types = Pattern.compile(types);
    }

    Form form() {
        return form;
    }

    /** Whether it is this, whatever parameters such as {@code charset} stand behind. */
    boolean takes(String type) {
        return types.matcher(type.split(";", 2)[0].strip().toLowerCase(Locale.ROOT))
                .matches();
    }
}
