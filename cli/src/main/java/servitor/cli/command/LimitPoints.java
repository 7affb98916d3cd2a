package servitor.cli.command;

import java.util.List;
import servitor.cli.client.Answers.LimitPoint;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** What other limits would have made of past cases, as a table with what can't be known. */
final class LimitPoints {
    private LimitPoints() {}

    static void print(Servitor servitor, JsonNode answer) {
        if (servitor.printed(answer)) {
            return;
        }
        List<LimitPoint> points = Client.all(LimitPoint.class, answer);
        Output.table(
                servitor.out(),
                List.of(
                        "LIMIT",
                        "CASES",
                        "ASKED",
                        "ALONE",
                        "APPROVALS SAVED",
                        "OF THOSE DECLINED OR CHANGED",
                        "LET THROUGH ALONE"),
                points.stream()
                        .map(point -> List.of(
                                point.limit().toPlainString(),
                                String.valueOf(point.judged()),
                                String.valueOf(point.asked()),
                                String.valueOf(point.alone()),
                                String.valueOf(point.saved()),
                                String.valueOf(point.declined()),
                                point.money().toPlainString()))
                        .toList());
        points.stream()
                .filter(point -> !point.price().isEmpty())
                .forEach(point -> servitor.out()
                        .println("Declined or changed then, alone at "
                                + point.limit().toPlainString() + ": " + String.join(", ", point.price())));
        servitor.out()
                .println(
                        "Not known: how people would have behaved, what nobody wanted under the limit of then, and what"
                                + " would have followed where nobody was asked that now would be.");
    }
}
