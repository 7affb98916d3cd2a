package servitor.service.people;

import jakarta.annotation.PostConstruct;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Service;
import servitor.core.json.Json;
import servitor.core.trail.Happening;
import servitor.service.ServitorSettings;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Rows.TokenRow;
import servitor.service.ledger.Writer;
import servitor.service.ledger.Writing;

/** People, their passwords and tokens. Passwords and tokens are kept as hashes only. */
@Service
public class People {
    private static final Logger LOG = LoggerFactory.getLogger(People.class);
    private static final Duration TOKEN_LIFE = Duration.ofDays(90);
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Ledger ledger;
    private final Writer writer;
    private final PasswordEncoder passwords;
    private final Clock clock;
    private final Path data;
    private final String nobodysPassword;

    People(Ledger ledger, Writer writer, PasswordEncoder passwords, Clock clock, ServitorSettings settings) {
        this.ledger = ledger;
        this.writer = writer;
        this.passwords = passwords;
        this.clock = clock;
        this.data = settings.data();
        this.nobodysPassword = passwords.encode("nobody has this password");
    }

    /** What is told of a person when adding or changing one; null parts of a change stay as they are. */
    public record PersonDetails(
            String id,
            @Nullable String name,
            @Nullable String email,
            @Nullable String account,
            @Nullable String manager,
            @Nullable String password,
            @Nullable Set<Role> roles,
            @Nullable Set<String> desks,
            @Nullable Set<String> groups) {}

    /** On the very first start there is nobody who could add people: makes an admin and leaves a token in the data folder. */
    @PostConstruct
    void makeFirstAdmin() throws IOException {
        if (!ledger.people().isEmpty()) {
            return;
        }
        put(
                new PersonDetails("admin", "Administrator", "", "", "", null, Set.of(Role.ADMIN), Set.of(), Set.of()),
                "system");
        String token = newToken("admin", "first start");
        Path file = data.resolve("admin.token");
        Files.createDirectories(data);
        Files.deleteIfExists(file);
        Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(file, token);
        LOG.info(
                "Nobody could sign in yet, so a person ‘admin’ was made. Its token is in {}; keep it or delete it.",
                file);
    }

    /** Adds a person, or changes the named parts of one. */
    public Person put(PersonDetails details, String by) {
        String id = details.id();
        if (!id.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw new IllegalArgumentException(
                    "‘" + id + "’ can't be the name of a person: use lower-case letters, digits, ‘.’, ‘_’ and ‘-’.");
        }
        if (details.password() != null && details.password().length() < 10) {
            throw new IllegalArgumentException("A password needs at least 10 characters.");
        }
        String hash = details.password() == null ? null : passwords.encode(details.password());
        writer.write(writing -> {
            write(writing, details, hash, by);
            return null;
        });
        return find(id).orElseThrow();
    }

    private void write(Writing writing, PersonDetails details, @Nullable String hash, String by) {
        Optional<PersonRow> before = writing.ledger().person(details.id());
        PersonRow row = new PersonRow(
                details.id(),
                chosen(details.name(), before.map(PersonRow::name), details.id()),
                chosen(details.email(), before.map(PersonRow::email), ""),
                chosen(details.account(), before.map(PersonRow::account), ""),
                hash != null ? hash : before.map(PersonRow::password).orElse(null),
                details.roles() != null
                        ? words(details.roles())
                        : before.map(PersonRow::roles).orElse("requester"),
                before.map(PersonRow::created).orElse(writing.now()),
                chosen(details.manager(), before.map(PersonRow::manager), ""));
        if (before.isPresent()) {
            writing.updatePerson(row);
        } else {
            writing.insertPerson(row);
        }
        Set<String> desks =
                details.desks() != null ? details.desks() : writing.ledger().desksOf(row.id());
        Set<String> groups =
                details.groups() != null ? details.groups() : writing.ledger().groupsOf(row.id());
        writing.setMemberships(row.id(), desks, groups);
        writing.trail(
                "",
                "",
                new Happening(
                        by.equals("system") ? Happening.SYSTEM : Happening.person(by),
                        before.isPresent() ? "person-changed" : "person-added",
                        "",
                        Json.object()
                                .put("person", row.id())
                                .put("roles", row.roles())
                                .set("belongs", Json.of(new TreeSet<>(union(desks, groups))))));
    }

    private static Set<String> union(Set<String> one, Set<String> other) {
        Set<String> all = new TreeSet<>(one);
        all.addAll(other);
        return all;
    }

    private static String chosen(@Nullable String told, Optional<String> before, String otherwise) {
        return told != null ? told : before.orElse(otherwise);
    }

    private static String words(Set<Role> roles) {
        return roles.stream().map(Role::word).sorted().collect(Collectors.joining(" "));
    }

    public Optional<Person> find(String id) {
        return ledger.person(id).map(this::person);
    }

    public List<Person> all() {
        return ledger.people().stream().map(this::person).toList();
    }

    /** The name people know somebody by; the id itself when nobody has it. */
    public String nameOf(String id) {
        return ledger.person(id).map(PersonRow::name).orElse(id);
    }

    private Person person(PersonRow row) {
        Set<Role> roles = Arrays.stream(row.roles().split(" "))
                .filter(word -> !word.isEmpty())
                .map(Role::of)
                .collect(Collectors.toSet());
        return new Person(
                row.id(),
                row.name(),
                row.email(),
                row.account(),
                roles,
                ledger.desksOf(row.id()),
                ledger.groupsOf(row.id()));
    }

    /** The person who has this name and password. Takes as long when there is no such person. */
    public Optional<Person> signIn(String id, String password) {
        Optional<PersonRow> row = ledger.person(id).filter(person -> person.password() != null);
        boolean matches =
                passwords.matches(password, row.map(PersonRow::password).orElse(nobodysPassword));
        return row.isPresent() && matches ? row.map(this::person) : Optional.empty();
    }

    /** The person a token belongs to; empty when it is unknown or has run out. */
    public Optional<Person> byToken(String token) {
        return ledger.token(hash(token))
                .filter(row -> row.expires().isAfter(clock.instant()))
                .flatMap(row -> find(row.person()));
    }

    /** Makes a token; it is told once, here, and never again. An earlier one with the same label stops working. */
    public String newToken(String person, String label) {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        String token = "svt_" + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
        writer.write(writing -> {
            writing.ledger()
                    .person(person)
                    .orElseThrow(() -> new IllegalArgumentException("There is no person ‘" + person + "’."));
            writing.deleteTokens(person, label);
            Instant now = writing.now();
            writing.insertToken(new TokenRow(hash(token), person, label, now, now.plus(TOKEN_LIFE)));
            writing.trail(
                    "",
                    "",
                    new Happening(
                            Happening.SYSTEM,
                            "token-made",
                            "",
                            Json.object().put("person", person).put("label", label)));
            return null;
        });
        return token;
    }

    private static String hash(String token) {
        return Json.sha256(token.getBytes(StandardCharsets.UTF_8));
    }
}
