package servitor.standins;

import java.math.RoundingMode;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes a draft out of the instruction and the facts of a prompt, by patterns, in English, German or French. */
final class Writer {
    private static final Pattern LANGUAGE = Pattern.compile("^language: (\\S+)", Pattern.MULTILINE);
    private static final Pattern FACTS =
            Pattern.compile("<<<outside (facts \\w+)\n(.*?)\n>>>outside \\1", Pattern.DOTALL);
    private static final Map<String, Map<String, String>> WORDS = Map.of(
            "en",
                    Map.of(
                            "hello", "Good day %s, ",
                            "paid",
                                    "we cancelled the sailing of %2$s from %3$s to %4$s, so your fare of %1$s is on its way back to you. It takes up to five working days.",
                            "sailed",
                                    "your sailing of %2$s from %3$s to %4$s ran as planned, and by our terms of carriage we pay a fare back only for sailings we cancel. Your ticket can still be moved to another day at any of our desks.",
                            "declined",
                                    "we looked at your request for the sailing of %2$s from %3$s to %4$s and can't pay the fare of %1$s back. %5$s If you see it differently, answer this message and a colleague will read it.",
                            "other",
                                    "thank you for your message. We have read it and will come back to you with an answer."),
            "de",
                    Map.of(
                            "hello", "Guten Tag %s, ",
                            "paid",
                                    "wir haben die Fahrt am %2$s von %3$s nach %4$s abgesagt; Ihr Fahrpreis von %1$s ist auf dem Weg zurück zu Ihnen. Das dauert bis zu fünf Werktage.",
                            "sailed",
                                    "Ihre Fahrt am %2$s von %3$s nach %4$s fand statt. Nach unseren Beförderungsbedingungen erstatten wir nur Fahrten, die wir absagen. Ihr Fahrschein lässt sich an jedem Schalter auf einen anderen Tag umbuchen.",
                            "declined",
                                    "wir haben Ihre Anfrage zur Fahrt am %2$s von %3$s nach %4$s geprüft und können den Fahrpreis von %1$s nicht erstatten. %5$s Wenn Sie das anders sehen, antworten Sie einfach auf diese Nachricht.",
                            "other",
                                    "danke für Ihre Nachricht. Wir haben sie gelesen und melden uns mit einer Antwort."),
            "fr",
                    Map.of(
                            "hello", "Bonjour %s, ",
                            "paid",
                                    "nous avons annulé la traversée du %2$s de %3$s à %4$s ; votre billet de %1$s vous est remboursé. Cela prend jusqu'à cinq jours ouvrés.",
                            "sailed",
                                    "votre traversée du %2$s de %3$s à %4$s a eu lieu. Selon nos conditions de transport, nous ne remboursons que les traversées que nous annulons. Votre billet peut être déplacé à un autre jour à nos guichets.",
                            "declined",
                                    "nous avons examiné votre demande pour la traversée du %2$s de %3$s à %4$s et ne pouvons pas rembourser %1$s. %5$s Si vous voyez les choses autrement, répondez à ce message.",
                            "other", "merci de votre message. Nous l'avons lu et vous répondrons."));

    private final String prompt;

    Writer(String prompt) {
        this.prompt = prompt;
    }

    ObjectNode write() {
        JsonNode facts = facts();
        String reason = facts.path("problem").path("name").asString("").equals("declined")
                ? "declined"
                : prompt.contains("on its way back")
                        ? "paid"
                        : prompt.contains("no fare is paid back") ? "sailed" : "other";
        Matcher matcher = LANGUAGE.matcher(prompt);
        Map<String, String> words =
                WORDS.getOrDefault(matcher.find() ? matcher.group(1).substring(0, 2) : "en", WORDS.get("en"));
        JsonNode booking = facts.path("booking");
        boolean enough = booking.has("sailing") || reason.equals("other");
        String name = booking.path("passenger")
                .asString(facts.path("requester").asString(""))
                .split(" ")[0];
        String text = words.get("hello").formatted(name)
                + words.get(enough ? reason : "other")
                        .formatted(
                                amount(facts),
                                booking.path("sailing")
                                        .path("departs")
                                        .asString("")
                                        .replace('T', ' '),
                                booking.path("sailing").path("from").asString(""),
                                booking.path("sailing").path("to").asString(""),
                                facts.path("problem").path("detail").asString(""));
        return JsonServer.JSON
                .createObjectNode()
                .put("text", text.strip())
                .put(
                        "reason",
                        "Written by a stand-in from the pattern ‘" + (enough ? reason : "other")
                                + "’ and the facts of the booking.")
                .put("sure", enough ? 0.9 : 0.2);
    }

    private static String amount(JsonNode facts) {
        JsonNode amount = facts.path("refund").has("amount")
                ? facts.path("refund").get("amount")
                : facts.path("booking").path("paid");
        return amount.isNumber()
                ? amount.decimalValue().setScale(2, RoundingMode.HALF_EVEN) + " "
                        + facts.path("booking").path("currency").asString("EUR")
                : "";
    }

    private JsonNode facts() {
        Matcher matcher = FACTS.matcher(prompt);
        return matcher.find() ? JsonServer.JSON.readTree(matcher.group(2)) : JsonServer.JSON.createObjectNode();
    }
}
