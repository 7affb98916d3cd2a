package servitor.service.api;

import java.net.URI;
import org.springframework.http.ResponseEntity;

/** Answers to what has made something: 201 with where it is (RFC 9110, section 15.3.2). */
final class Made {
    private Made() {}

    /** {@code at} is the path of the thing, or of where it is listed when it has none of its own. */
    static <T> ResponseEntity<T> at(String at, T shown) {
        return ResponseEntity.created(URI.create(at)).body(shown);
    }

    /** The same for what may have been there already. */
    static <T> ResponseEntity<T> at(String at, boolean isNew, T shown) {
        return isNew
                ? at(at, shown)
                : ResponseEntity.ok().location(URI.create(at)).body(shown);
    }
}
