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
import java.util.Base64;
import java.util.List;
import java.util.Objects;
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
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Precondition;
import servitor.service.ServitorSettings;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import tools.jackson.databind.node.ObjectNode;

/** People, their passwords and tokens. Passwords and tokens are kept as hashes only. */
@Service
public class People {
    private static final Logger LOG = LoggerFactory.getLogger(People.class);
    /** Who did what nobody has signed in for. */
    private static final String SYSTEM = "system";
    /** The label of the token that is made when nobody could sign in yet. */
    private static final String FIRST_START = "first start";

    private static final Duration TOKEN_LIFE = Duration.ofDays(90);
    private static final SecureRandom RANDOM = new SecureRandom();

    private final PersonStore personStore;
    private final Writer writer;
    private final PeopleReader reader;
    private final PasswordEncoder passwords;
    private final Clock clock;
    private final Path data;
    private final String nobodysPassword;

    People(
            PersonStore personStore,
            Writer writer,
            PeopleReader reader,
            PasswordEncoder passwords,
            Clock clock,
            ServitorSettings settings) {
        this.reader = reader;
        this.personStore = personStore;
        this.writer = writer;
        this.passwords = passwords;
        this.clock = clock;
        this.data = settings.data();
        this.nobodysPassword = Objects.requireNonNull(passwords.encode("nobody has this password"));
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
            @Nullable Set<String> groups,
            @Nullable Boolean enabled) {
        public PersonDetails(
                String id,
                @Nullable String name,
                @Nullable String email,
                @Nullable String account,
                @Nullable String manager,
                @Nullable String password,
                @Nullable Set<Role> roles,
                @Nullable Set<String> desks,
                @Nullable Set<String> groups) {
            this(id, name, email, account, manager, password, roles, desks, groups, null);
        }
    }

    /** On the very first start there is nobody who could add people: makes an admin and leaves a token in the data folder. */
    @PostConstruct
    void makeFirstAdmin() throws IOException {
        if (!personStore.all().isEmpty()) {
            return;
        }
        put(
                new PersonDetails("admin", "Administrator", "", "", "", null, Set.of(Role.ADMIN), Set.of(), Set.of()),
                SYSTEM,
                Precondition.NONE);
        String token = newToken("admin", FIRST_START, SYSTEM);
        Path file = data.resolve("admin.token");
        Files.createDirectories(data);
        Files.deleteIfExists(file);
        Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(file, token);
        LOG.info(
                "Nobody could sign in yet, so a person ‘admin’ was made. Sign in once with: servitor sign-in admin --token-file {}",
                file);
    }

    /** Adds a person, or changes the named parts of one. */
    public Person put(PersonDetails details, String by, Precondition precondition) {
        String id = details.id();
        if (!id.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw new IllegalArgumentException(
                    "‘" + id + "’ can't be the name of a person: use lower-case letters, digits, ‘.’, ‘_’ and ‘-’.");
        }
        if (details.password() != null) {
            strong(details.password(), id, String.valueOf(details.name()), String.valueOf(details.email()));
        }
        String hash = details.password() == null ? null : passwords.encode(details.password());
        writer.write(tx -> {
            precondition.require(find(id));
            write(tx, details, hash, by);
            return null;
        });
        return find(id).orElseThrow();
    }

    private static void strong(String password, String... about) {
        Passwords.fault(password, List.of(about)).ifPresent(fault -> {
            throw new IllegalArgumentException(fault);
        });
    }

    private void write(LedgerTransaction tx, PersonDetails details, @Nullable String hash, String by) {
        Optional<PersonRow> before = personStore.find(details.id());
        Set<String> desksBefore = personStore.desksOf(details.id());
        Set<String> groupsBefore = personStore.groupsOf(details.id());
        Set<String> desks = details.desks() != null ? details.desks() : desksBefore;
        Set<String> groups = details.groups() != null ? details.groups() : groupsBefore;
        String roles = details.roles() != null
                ? words(details.roles())
                : before.map(PersonRow::roles).orElse("requester");
        Instant disabled = details.enabled() == null
                ? before.map(PersonRow::disabled).orElse(null)
                : details.enabled() ? null : before.map(PersonRow::disabled).orElse(tx.now());
        boolean lessened = hash != null
                || disabled != null
                || !PeopleReader.split(roles)
                        .containsAll(
                                PeopleReader.split(before.map(PersonRow::roles).orElse("")))
                || !desks.containsAll(desksBefore)
                || !groups.containsAll(groupsBefore);
        PersonRow row = new PersonRow(
                details.id(),
                chosen(details.name(), before.map(PersonRow::name), details.id()),
                chosen(details.email(), before.map(PersonRow::email), ""),
                chosen(details.account(), before.map(PersonRow::account), ""),
                hash != null ? hash : before.map(PersonRow::password).orElse(null),
                roles,
                before.map(PersonRow::created).orElse(tx.now()),
                chosen(details.manager(), before.map(PersonRow::manager), ""),
                disabled,
                before.isPresent() && lessened
                        ? tx.now()
                        : before.map(PersonRow::signedOut).orElse(null));
        if (before.isPresent()) {
            personStore.update(tx, row);
        } else {
            personStore.insert(tx, row);
        }
        personStore.setMemberships(tx, row.id(), desks, groups);
        ObjectNode data = Json.object().put("person", row.id()).put("roles", row.roles());
        data.set("belongs", Json.of(new TreeSet<>(union(desks, groups))));
        data.set("changed", changes(before, row, hash != null));
        tx.trail(
                "",
                "",
                new TrailEvent(
                        by.equals(SYSTEM) ? TrailEvent.SYSTEM : TrailEvent.person(by),
                        before.isPresent() ? TrailWord.PERSON_CHANGED : TrailWord.PERSON_ADDED,
                        "",
                        data));
    }

    /** What is another than before, old and new; what says who somebody is outside of here stands as a digest. */
    private static ObjectNode changes(Optional<PersonRow> before, PersonRow now, boolean password) {
        ObjectNode changes = Json.object();
        change(changes, "name", before.map(PersonRow::name).map(Json::digest), Json.digest(now.name()));
        change(changes, "mail", before.map(PersonRow::email).map(Json::digest), Json.digest(now.email()));
        change(changes, "account", before.map(PersonRow::account), now.account());
        change(changes, "manager", before.map(PersonRow::manager), now.manager());
        change(changes, "roles", before.map(PersonRow::roles), now.roles());
        change(changes, "enabled", before.map(row -> enabled(row.disabled())), enabled(now.disabled()));
        if (password) {
            changes.put("password", "changed");
        }
        return changes;
    }

    private static String enabled(@Nullable Instant disabled) {
        return disabled == null ? "yes" : "no";
    }

    private static void change(ObjectNode changes, String what, Optional<String> was, String now) {
        if (!was.equals(Optional.of(now))) {
            changes.putObject(what).put("was", was.orElse("")).put("now", now);
        }
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
        return reader.find(id);
    }

    public List<Person> all() {
        return reader.all();
    }

    /** The name people know somebody by; the id itself when nobody has it. */
    public String nameOf(String id) {
        return personStore.find(id).map(PersonRow::name).orElse(id);
    }

    /** The person who has this name and password, and may sign in. Takes as long when there is no such person. */
    public Optional<Person> signIn(String id, String password) {
        Optional<PersonRow> row = personStore.find(id).filter(person -> person.password() != null);
        boolean matches =
                passwords.matches(password, row.map(PersonRow::password).orElse(nobodysPassword));
        return row.isPresent() && matches ? row.map(reader::person).filter(Person::enabled) : Optional.empty();
    }

    /** Somebody tried to sign in, and what came of it. */
    public void note(TrailWord what, String person, String from) {
        boolean known = personStore.find(person).isPresent();
        writer.write(tx -> {
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            known ? TrailEvent.person(person) : TrailEvent.SYSTEM,
                            what,
                            "",
                            // a name nobody has may be a password typed into the wrong field
                            Json.object()
                                    .put("person", known ? person : "unknown")
                                    .put("from", from)));
            return null;
        });
    }

    /** Whether a session that began at {@code since} still stands: its person may sign in, and nothing has ended it. */
    public Optional<Person> bySession(String id, Instant since) {
        return personStore
                .find(id)
                .filter(row -> row.disabled() == null && (row.signedOut() == null || since.isAfter(row.signedOut())))
                .map(reader::person);
    }

    /** Ends every session of a person. */
    public void endSessions(String id, String by) {
        writer.write(tx -> {
            PersonRow row = row(id);
            personStore.update(
                    tx,
                    new PersonRow(
                            row.id(),
                            row.name(),
                            row.email(),
                            row.account(),
                            row.password(),
                            row.roles(),
                            row.created(),
                            row.manager(),
                            row.disabled(),
                            tx.now()));
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(by),
                            TrailWord.SESSIONS_ENDED,
                            "",
                            Json.object().put("person", id)));
            return null;
        });
    }

    private PersonRow row(String id) {
        return personStore.find(id).orElseThrow(() -> new IllegalArgumentException("There is no person ‘" + id + "’."));
    }

    /** Changes one's own password, which ends all sessions; false when the current one is another. */
    public boolean changePassword(String id, String current, String wanted) {
        if (signIn(id, current).isEmpty()) {
            return false;
        }
        put(new PersonDetails(id, null, null, null, null, wanted, null, null, null), id, Precondition.NONE);
        return true;
    }

    /**
     * Whom a token belongs to.
     *
     * @param first whether it is the one of the very first start, which opens nothing but a token of one's own
     */
    public record Bearer(Person person, boolean first) {}

    /** Whom a token belongs to; empty when it is unknown, has run out or its person may not sign in. */
    public Optional<Bearer> byToken(String token) {
        return personStore
                .token(hash(token))
                .filter(row -> row.expires().isAfter(clock.instant()))
                .flatMap(row -> find(row.person())
                        .filter(Person::enabled)
                        .map(person -> new Bearer(person, row.label().equals(FIRST_START))));
    }

    /** A token as it may be shown: without itself. */
    public record TokenView(String label, Instant created, Instant expires) {}

    public List<TokenView> tokens(String person) {
        return personStore.tokensOf(person).stream()
                .map(row -> new TokenView(row.label(), row.created(), row.expires()))
                .toList();
    }

    /** Ends a token; false when there is none of that label. */
    public boolean revoke(String person, String label, String by) {
        return writer.write(tx -> {
            if (personStore.deleteTokens(person, label) == 0) {
                return false;
            }
            tokenEntry(tx, TrailWord.TOKEN_REVOKED, person, label, by);
            return true;
        });
    }

    /** Makes a token; it is told once, here, and never again. An earlier one with the same label stops working. */
    public String newToken(String person, String label, String by) {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        String token = "svt_" + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
        writer.write(tx -> {
            row(person);
            personStore.deleteTokens(person, label);
            if (!label.equals(FIRST_START)) {
                personStore.deleteTokens(person, FIRST_START); // it is good for this once
            }
            Instant now = tx.now();
            personStore.insertToken(new TokenRow(hash(token), person, label, now, now.plus(TOKEN_LIFE)));
            tokenEntry(tx, TrailWord.TOKEN_MADE, person, label, by);
            return null;
        });
        if (!label.equals(FIRST_START) && person.equals("admin")) {
            forgetFirstToken();
        }
        return token;
    }

    private void forgetFirstToken() {
        try {
            Files.deleteIfExists(data.resolve("admin.token"));
        } catch (IOException e) {
            LOG.warn("admin.token can't be removed; its token opens nothing any more.", e);
        }
    }

    private static void tokenEntry(LedgerTransaction tx, TrailWord what, String person, String label, String by) {
        tx.trail(
                "",
                "",
                new TrailEvent(
                        by.equals(SYSTEM) ? TrailEvent.SYSTEM : TrailEvent.person(by),
                        what,
                        "",
                        Json.object().put("person", person).put("label", label)));
    }

    private static String hash(String token) {
        return Json.sha256(token.getBytes(StandardCharsets.UTF_8));
    }
}
