package servitor.core.handbook.read;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Limit.Per;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;

/** Reads the limits of a grant. */
final class LimitReader {
    private static final List<String> PER =
            Stream.of(Per.values()).map(Per::word).toList();

    private LimitReader() {}

    /** Null, with a finding, for what can't be read: a handbook with a limit that isn't one is never published. */
    static @Nullable Limit read(Yaml item, Findings findings) {
        Keys keys = Keys.of(item, findings, List.of("sum", "at-most", "per"));
        List<Per> per = new ArrayList<>();
        for (String word : keys.texts("per")) {
            if (PER.contains(word)) {
                per.add(Per.valueOf(word.toUpperCase(Locale.ROOT)));
            } else {
                findings.error(
                        keys.value("per").place(),
                        Code.LIMITS,
                        "Nothing is counted per ‘" + word + "’.",
                        Suggest.remedy(word, PER));
            }
        }
        var atMost = keys.value("at-most").scalar();
        if (!atMost.isNumber() || atMost.decimalValue().signum() < 0) {
            findings.error(
                    keys.has("at-most") ? keys.value("at-most").place() : keys.place(),
                    Code.LIMITS,
                    "A limit needs ‘at-most’ with a number that isn't below zero.",
                    "Write it as ‘{ at-most: 1, per: [case] }’ or ‘{ sum: args.amount, at-most: 2000.00, per: [day] }’.");
            return null;
        }
        if (keys.has("sum") && keys.condition("sum") == null) {
            return null;
        }
        return new Limit(keys.condition("sum"), new BigDecimal(atMost.asString()), per);
    }

    static Decision overLimit(Keys grant, Findings findings) {
        String word = grant.text("over-limit", "deny");
        if (!List.of("ask", "deny").contains(word)) {
            findings.error(
                    grant.value("over-limit").place(),
                    Code.LIMITS,
                    "‘" + word + "’ is nothing that can happen beyond a limit.",
                    "Write ask or deny.");
        }
        return word.equals("ask") ? Decision.ASK : Decision.DENY;
    }
}
