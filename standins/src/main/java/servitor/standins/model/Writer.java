package servitor.standins.model;

import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes a draft out of the instruction and the facts of a prompt, by patterns, in English, German or French. */
final class Writer {
    private static final Map<String, Map<String, String>> WORDS = Map.of(
            "en",
                    Map.of(
                            "hello",
                            "Good day %s, ",
                            "paid",
                            "we cancelled the sailing of %2$s from %3$s to %4$s, so your fare of %1$s is on its way back to you. "
                                    + "It takes up to five working days.",
                            "sailed",
                            "your sailing of %2$s from %3$s to %4$s ran as planned, and by our terms of carriage we pay a fare "
                                    + "back only for sailings we cancel. Your ticket can still be moved to another day at any of our desks.",
                            "declined",
                            "we looked at your request for the sailing of %2$s from %3$s to %4$s and can't pay the fare of %1$s "
                                    + "back. %5$s If you see it differently, answer this message and a colleague will read it.",
                            "sorry",
                            "thank you for telling us what went wrong (%6$s). We are sorry, and the people of the ship have been "
                                    + "told.",
                            "found",
                            "good news: what you lost has been found, number %8$s. It is kept for you at the %9$s.",
                            "ask",
                            "thank you for writing; so that we can look, please tell us: %7$s.",
                            "other",
                            "thank you for your message. We have read it and will come back to you with an answer."),
            "de",
                    Map.of(
                            "hello", "Guten Tag %s, ",
                            "paid",
                                    "wir haben die Fahrt am %2$s von %3$s nach %4$s abgesagt; Ihr Fahrpreis von %1$s ist auf dem Weg "
                                            + "zurück zu Ihnen. Das dauert bis zu fünf Werktage.",
                            "sailed",
                                    "Ihre Fahrt am %2$s von %3$s nach %4$s fand statt. Nach unseren Beförderungsbedingungen erstatten "
                                            + "wir nur Fahrten, die wir absagen. Ihr Fahrschein lässt sich an jedem Schalter auf einen anderen Tag "
                                            + "umbuchen.",
                            "declined",
                                    "wir haben Ihre Anfrage zur Fahrt am %2$s von %3$s nach %4$s geprüft und können den Fahrpreis von "
                                            + "%1$s nicht erstatten. %5$s Wenn Sie das anders sehen, antworten Sie einfach auf diese Nachricht.",
                            "sorry",
                                    "danke, dass Sie uns geschrieben haben (%6$s). Das tut uns leid; die Leute an Bord wissen Bescheid.",
                            "found",
                                    "gute Nachricht: Was Sie verloren haben, ist gefunden, Nummer %8$s. Es liegt für Sie bereit: %9$s.",
                            "ask", "danke für Ihre Nachricht; damit wir suchen können, sagen Sie uns bitte: %7$s.",
                            "other",
                                    "danke für Ihre Nachricht. Wir haben sie gelesen und melden uns mit einer Antwort."),
            "fr",
                    Map.of(
                            "hello", "Bonjour %s, ",
                            "paid",
                                    "nous avons annulé la traversée du %2$s de %3$s à %4$s ; votre billet de %1$s vous est remboursé. "
                                            + "Cela prend jusqu'à cinq jours ouvrés.",
                            "sailed",
                                    "votre traversée du %2$s de %3$s à %4$s a eu lieu. Selon nos conditions de transport, nous ne "
                                            + "remboursons que les traversées que nous annulons. Votre billet peut être déplacé à un autre jour à "
                                            + "nos guichets.",
                            "declined",
                                    "nous avons examiné votre demande pour la traversée du %2$s de %3$s à %4$s et ne pouvons pas "
                                            + "rembourser %1$s. %5$s Si vous voyez les choses autrement, répondez à ce message.",
                            "sorry",
                                    "merci de nous l'avoir dit (%6$s). Nous en sommes désolés ; l'équipage est prévenu.",
                            "found",
                                    "bonne nouvelle : ce que vous avez perdu est retrouvé, numéro %8$s, gardé ici : %9$s.",
                            "ask", "merci de votre message ; pour que nous puissions chercher, dites-nous : %7$s.",
                            "other", "merci de votre message. Nous l'avons lu et vous répondrons."));

    private final Asked asked;
    private final JsonNode schema;

    Writer(Asked asked, JsonNode schema) {
        this.asked = asked;
        this.schema = schema;
    }

    /** The text, or one for each language asked for; with the facts it used, where those are asked for. */
    ObjectNode write() {
        JsonNode properties = schema.path("properties");
        ObjectNode answer;
        if (properties.has("texts")) {
            answer = Asked.JSON.createObjectNode();
            ObjectNode texts = answer.putObject("texts");
            for (String language : properties.path("texts").path("properties").propertyNames()) {
                ObjectNode one = in(language);
                texts.set(language, one.get("text"));
                answer.set("reason", one.get("reason"));
                answer.set("sure", one.get("sure"));
            }
        } else {
            answer = in(asked.language());
        }
        JsonNode citable = properties.path("cites").path("items").path("enum");
        if (citable.isArray() && !citable.isEmpty()) {
            answer.putArray("cites").add(citable.get(0));
        }
        return answer;
    }

    /** The text of a document among the facts; empty when there is none. */
    private static String document(JsonNode facts) {
        for (JsonNode fact : facts) {
            if (fact.has("text") && fact.has("outcome")) {
                StringBuilder text = new StringBuilder(fact.path("text").asString(""));
                fact.path("text") // or what was noted of its parts
                        .forEach(noted -> text.append("[page ")
                                .append(noted.path("page").asInt(1))
                                .append("]\n")
                                .append(noted.path("says").asString(""))
                                .append('\n'));
                return text.toString();
            }
        }
        return "";
    }

    private ObjectNode in(String language) {
        JsonNode facts = asked.facts();
        String document = document(facts);
        if (!document.isEmpty()) {
            return Asked.JSON
                    .createObjectNode()
                    .put("text", new DocumentModel(document).summary(asked.instruction(), 3))
                    .put("reason", "A stand-in repeats the sentences that have most words of the instruction.")
                    .put("sure", 0.7);
        }
        if (PhraseBook.isAskedFor(asked.instruction())) {
            return translated(tongue(language));
        }
        String reason = facts.path("problem").path("name").asString("").equals("declined")
                ? "declined"
                : asked.instruction().contains("on its way back")
                        ? "paid"
                        : asked.instruction().contains("no fare is paid back")
                                ? "sailed"
                                : asked.instruction().contains("what went wrong")
                                        ? "sorry"
                                        : asked.instruction().contains("Ask kindly")
                                                ? "ask"
                                                : asked.instruction().contains("it was found") ? "found" : "other";
        String tongue = tongue(language);
        Map<String, String> words = Objects.requireNonNull(WORDS.get(tongue));
        JsonNode booking = facts.path("booking");
        boolean enough = booking.has("sailing")
                || List.of("other", "sorry", "ask", "found").contains(reason);
        String name = booking.path("passenger")
                .asString(facts.path("requester").asString(""))
                .split(" ")[0];
        String text = Objects.requireNonNull(words.get("hello")).formatted(name).replace(" , ", ", ")
                + Objects.requireNonNull(words.get(enough ? reason : "other"))
                        .formatted(
                                amount(facts),
                                booking.path("sailing")
                                        .path("departs")
                                        .asString("")
                                        .replace('T', ' '),
                                booking.path("sailing").path("from").asString(""),
                                booking.path("sailing").path("to").asString(""),
                                facts.path("problem").path("detail").asString(""),
                                subject(),
                                missing(facts),
                                found(facts).path("number").asString(""),
                                found(facts).path("kept").asString(""))
                        .replace(" ()", "")
                + asked(facts);
        return Asked.JSON
                .createObjectNode()
                .put("text", new Manner(asked, tongue).keep(text.strip() + plainly(reason, facts)))
                .put(
                        "reason",
                        "Written by a stand-in from the pattern ‘" + (enough ? reason : "other")
                                + "’ and the facts of the booking.")
                .put("sure", enough ? 0.9 : 0.2);
    }

    private static String tongue(String language) {
        String tongue = language.length() < 2 ? "en" : language.substring(0, 2);
        return WORDS.containsKey(tongue) ? tongue : "en";
    }

    private ObjectNode translated(String tongue) {
        return Asked.JSON
                .createObjectNode()
                .put("text", PhraseBook.translate(asked.words(), tongue))
                .put("reason", "A stand-in's phrase book, word by word.")
                .put("sure", 0.4);
    }

    /** What is asked and no pattern says: the facts that the instruction or the request names, one sentence each. */
    private String plainly(String reason, JsonNode facts) {
        List<String> told = new ArrayList<>();
        if (reason.equals("other")) {
            String said = (asked.instruction() + " " + asked.words()).toLowerCase(java.util.Locale.ROOT);
            tell("", facts, said, told);
        }
        return told.isEmpty() ? "" : " " + String.join(" ", told);
    }

    private String subject() {
        return asked.request().path("subject").asString("");
    }

    /** The thing that was picked among those found, or the first of them. */
    private static JsonNode found(JsonNode facts) {
        String picked = facts.path("pick").path("number").asString("");
        for (JsonNode item : facts.path("found").path("items")) {
            if (picked.isEmpty() || item.path("number").asString("").equals(picked)) {
                return item;
            }
        }
        return facts.path("found").path("items").path(0);
    }

    private static String missing(JsonNode facts) {
        List<String> names = new ArrayList<>();
        facts.properties().forEach(fact -> fact.getValue().path("missing").forEach(one -> names.add(one.asString(""))));
        return String.join(", ", names);
    }

    /** What people asked for when they sent the last version back: facts they named, or a note that it was heard. */
    private String asked(JsonNode facts) {
        JsonNode rounds = asked.fenced("feedback");
        if (rounds.isEmpty()) {
            return "";
        }
        String said = rounds.get(rounds.size() - 1).path("said").asString("");
        List<String> told = new ArrayList<>();
        tell("", facts, said.toLowerCase(java.util.Locale.ROOT), told);
        return told.isEmpty() ? " (" + said + ")" : " " + String.join(" ", told);
    }

    private static void tell(String name, JsonNode node, String said, List<String> told) {
        if (node.isObject()) {
            node.properties().forEach(e -> tell(e.getKey(), e.getValue(), said, told));
        } else if (node.isArray() && !node.isEmpty()) {
            tell(name, node.get(0), said, told); // the newest, where there are several
        } else if (name.length() > 2 && said.contains(name) && node.isValueNode() && told.size() < 3) {
            told.add("The " + name + ": " + (isMoney(name) && node.isNumber() ? money(node, "EUR") : node.asString(""))
                    + ".");
        }
    }

    private static String amount(JsonNode facts) {
        JsonNode amount = facts.path("refund").has("amount")
                ? facts.path("refund").get("amount")
                : facts.path("booking").path("paid");
        return amount.isNumber()
                ? money(amount, facts.path("booking").path("currency").asString("EUR"))
                : "";
    }

    private static String money(JsonNode amount, String currency) {
        return amount.decimalValue().setScale(2, RoundingMode.HALF_EVEN) + " " + currency;
    }

    private static boolean isMoney(String name) {
        return List.of("amount", "paid", "price", "net", "gross", "deductions", "limit", "cost")
                .contains(name);
    }
}
