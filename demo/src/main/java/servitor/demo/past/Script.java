package servitor.demo.past;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.random.RandomGenerator;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.demo.past.Passengers.Passenger;
import servitor.standins.Crew;
import servitor.standins.Crew.Employee;
import tools.jackson.databind.node.ObjectNode;

/**
 * Who asks for what, day by day: storms that cancel sailings and bring many refunds at once, and what comes in besides. The
 * same {@code random} writes the same script.
 */
final class Script {
    static final ZoneId ZONE = ZoneId.of("Europe/Dublin");
    /** Before the end, when nobody answers any more: what came in then is still there for whoever looks. */
    static final Duration LAST_HOURS = Duration.ofHours(2);

    private static final List<String> SHIPS =
            List.of("Grey Heron", "Stormpetrel", "Kittiwake", "Long Eddy", "Island Rose");
    private static final List<String> ISLANDS = List.of("Varra", "Sandholm", "Quillport", "Stennis");
    private static final List<Employee> STAFF = Crew.ALL.subList(0, 12);
    private static final List<Employee> JOINERS = Crew.ALL.stream()
            .filter(one -> one.account().compareTo("E-302") >= 0)
            .toList();

    /** How somebody asks. */
    enum Way {
        CONSOLE,
        MAIL,
        /** By a mail of which nobody can tell whether it is theirs. */
        MAIL_FROM_ANYWHERE;

        boolean isMail() {
            return this != CONSOLE;
        }
    }

    /**
     * Somebody asks.
     *
     * @param by who, by id
     * @param locks the account that is locked just before; null for none
     */
    record Asked(
            Instant at,
            String by,
            String kind,
            String subject,
            String text,
            String language,
            Map<String, String> fields,
            Way way,
            @Nullable String locks) {}

    private final RandomGenerator random;
    private final List<Asked> asked = new ArrayList<>();
    private final ObjectNode sailings = Json.object();
    private final ObjectNode bookings = Json.object();
    private int references;
    private int joiners;

    /** The script of {@code days} days from {@code start} on; what is asked in the last hours before {@code end} is of every kind. */
    Script(Instant start, int days, Instant end, RandomGenerator random) {
        this.random = random;
        for (int day = 0; day < days; day++) {
            day(start.plus(day, ChronoUnit.DAYS), day);
        }
        lastHours(end);
        asked.sort(Comparator.comparing(Asked::at));
    }

    List<Asked> asked() {
        return asked;
    }

    /** The sailings and bookings it speaks of, as the fares system keeps them. */
    ObjectNode fares() {
        return Json.object().<ObjectNode>set("sailings", sailings).set("bookings", bookings);
    }

    private void day(Instant morning, int day) {
        boolean storm = day % 6 == 4;
        String sailing = sailing(morning, day, storm);
        for (int i = storm ? random.nextInt(8, 16) : random.nextInt(0, 2); i > 0; i--) {
            refund(within(morning, 2, storm ? 6 : 12), sailing, storm);
        }
        for (int i = often(0.8); i > 0; i--) {
            complaint(within(morning, 1, 15));
        }
        for (int i = often(0.5); i > 0; i--) {
            lost(within(morning, 2, 14));
        }
        for (int i = often(0.6); i > 0; i--) {
            lockedOut(within(morning, 0, 11));
        }
        if (random.nextInt(4) == 0) {
            kit(within(morning, 1, 9));
        }
        if (random.nextInt(5) == 0) {
            pay(within(morning, 2, 10));
        }
        if (day % 13 == 6) {
            joiner(within(morning, 2, 4));
        }
    }

    private void lastHours(Instant end) {
        asked.removeIf(one -> one.at().isAfter(end.minus(LAST_HOURS)));
        String storm = sailing(end.minus(8, ChronoUnit.HOURS), 900, true);
        for (long minutes : new long[] {90, 70, 50, 25, 18, 8}) {
            refund(end.minus(minutes, ChronoUnit.MINUTES), storm, true);
        }
        complaint(end.minus(75, ChronoUnit.MINUTES));
        lost(end.minus(50, ChronoUnit.MINUTES));
        kit(end.minus(45, ChronoUnit.MINUTES));
        pay(end.minus(30, ChronoUnit.MINUTES));
        lockedOut(end.minus(20, ChronoUnit.MINUTES));
    }

    /** A whole number with this mean, under two. */
    private int often(double mean) {
        return (random.nextDouble() < mean / 2 ? 1 : 0) + (random.nextDouble() < mean / 2 ? 1 : 0);
    }

    private Instant within(Instant morning, int fromHour, int toHour) {
        return morning.plus(Duration.ofSeconds(random.nextLong(fromHour * 3600L, toHour * 3600L)));
    }

    private <T> T one(List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    private String sailing(Instant morning, int day, boolean cancelled) {
        String number = "S-%d".formatted(101 + day);
        String island = one(ISLANDS);
        LocalDateTime departs = LocalDateTime.ofInstant(morning, ZONE).plusMinutes(15L * random.nextInt(4, 40));
        sailings.set(
                number,
                Json.object()
                        .put("number", number)
                        .put("ship", one(SHIPS))
                        .put("from", "Aldermouth")
                        .put("to", island)
                        .put("departs", departs.truncatedTo(ChronoUnit.MINUTES).toString())
                        .put("state", cancelled ? "cancelled" : "sailed"));
        return number;
    }

    private void refund(Instant at, String sailing, boolean cancelled) {
        Passenger passenger = one(Passengers.ALL);
        int kind = random.nextInt(20);
        double paid = kind < 14 ? random.nextInt(36, 240) / 2.0 : random.nextInt(121, kind == 19 ? 900 : 600);
        String reference = "SK-%d".formatted(20_001 + references++);
        boolean known = random.nextInt(30) != 0; // now and then somebody mistypes it
        if (known) {
            bookings.set(
                    reference,
                    Json.object()
                            .put("reference", reference)
                            .put("owner", passenger.account())
                            .put("passenger", passenger.name())
                            .put("paid", java.math.BigDecimal.valueOf(paid).setScale(2))
                            .put("currency", "EUR")
                            .put("sailing", sailing));
        }
        String to = sailings.path(sailing).path("to").asString();
        String[] words = switch (passenger.language()) {
            case "de" ->
                new String[] {
                    "Erstattung der Fahrt nach " + to,
                    cancelled
                            ? "Die Fahrt wurde abgesagt. Bitte erstatten Sie den Fahrpreis."
                            : "Wir konnten nicht mitfahren. Bitte erstatten Sie den Fahrpreis."
                };
            case "fr" ->
                new String[] {
                    "Remboursement de la traversée vers " + to,
                    cancelled
                            ? "La traversée a été annulée. Merci de me rembourser."
                            : "Je n'ai pas pu voyager. Puis-je être remboursé ?"
                };
            default ->
                new String[] {
                    "Refund for the sailing to " + to,
                    cancelled
                            ? "You cancelled our sailing to " + to + ". Please pay the fare back."
                            : "We could not travel after all. Can we have the fare back?"
                };
        };
        add(at, passenger, "refund", words[0], words[1], Map.of("booking", reference));
    }

    private void complaint(Instant at) {
        Passenger passenger = one(Passengers.ALL);
        String[] words = one(List.of(
                new String[] {"The boat was late", "We waited two hours on the pier. Unacceptable!!"},
                new String[] {"Late again", "The evening boat was late by an hour. I am disappointed."},
                new String[] {"Cold saloon", "The saloon was cold all the way. Please see to the heating, thank you."},
                new String[] {"A dirty cabin", "The seats in our cabin were dirty. This is a shame."},
                new String[] {"The noise below", "The noise at our seats was hard to bear. A pity, it was a fine day."},
                new String[] {"The man at the ramp", "Your crew at the ramp was rude to my mother. Never again!"},
                new String[] {"The announcement", "Nobody could understand the announcement in Quillport."}));
        add(at, passenger, "complaint", words[0], words[1], Map.of());
    }

    private void lost(Instant at) {
        Passenger passenger = one(Passengers.ALL);
        String thing = one(List.of("a woollen scarf", "an umbrella", "a rucksack with a tent", "a child's shoe"));
        boolean told = random.nextInt(3) == 0;
        add(
                at,
                passenger,
                "lost-thing",
                "I have lost " + thing,
                "I left " + thing + " on board" + (told ? " yesterday. It is blue." : "."),
                Map.of("thing", thing));
    }

    private void lockedOut(Instant at) {
        Employee one = one(STAFF);
        boolean locked = random.nextInt(6) != 0;
        asked.add(new Asked(
                at,
                one.id(),
                "locked-out",
                "I can't sign in",
                "It says my account is locked since this morning.",
                "en",
                Map.of(),
                Way.CONSOLE,
                locked ? one.account() : null));
    }

    private void kit(Instant at) {
        Employee one = one(STAFF);
        String[] words = one(List.of(
                new String[] {"Something to scan tickets on deck", "The old one fell into the water."},
                new String[] {"A jacket", "Mine lets the rain in; I was wet through on Sunday."},
                new String[] {"A radio for the mate's watch", "The second radio crackles so that nobody understands."},
                new String[] {"A new stool", "The stool in the ticket office wobbles."}));
        asked.add(new Asked(at, one.id(), "kit-wish", words[0], words[1], "en", Map.of(), Way.CONSOLE, null));
    }

    private void pay(Instant at) {
        Employee one = one(STAFF);
        asked.add(new Asked(
                at,
                one.id(),
                "pay-question",
                "My last payslip",
                "What is the remark on my payslip, and why does it differ from the one before?",
                "en",
                Map.of(),
                random.nextInt(2) == 0 ? Way.MAIL : Way.CONSOLE,
                null));
    }

    private void joiner(Instant at) {
        Employee one = JOINERS.get(joiners++ % JOINERS.size());
        asked.add(new Asked(
                at,
                "halvard",
                "joiner",
                one.name() + " joins us",
                "They start on the first of next month.",
                "en",
                Map.of("account", one.account()),
                Way.CONSOLE,
                null));
    }

    private void add(Instant at, Passenger by, String kind, String subject, String text, Map<String, String> fields) {
        asked.add(new Asked(at, by.id(), kind, subject, text, by.language(), fields, way(by), null));
    }

    /** Every second passenger writes; what is written in French isn't understood by the desk's intakes. */
    private Way way(Passenger by) {
        int one = random.nextInt(12);
        return by.language().equals("fr") || one < 6 ? Way.CONSOLE : one < 11 ? Way.MAIL : Way.MAIL_FROM_ANYWHERE;
    }
}
