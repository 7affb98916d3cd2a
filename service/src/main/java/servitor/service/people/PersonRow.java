package servitor.service.people;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A person as the table holds it; {@code roles} are words with blanks between them. */
public record PersonRow(
        String id,
        String name,
        String email,
        String account,
        @Nullable String password,
        String roles,
        Instant created,
        String manager,
        @Nullable Instant disabled,
        @Nullable Instant signedOut) {}
