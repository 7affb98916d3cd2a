package servitor.core.origin;

import java.math.BigDecimal;
import java.text.Normalizer;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * One form for all the ways in which people and systems write the same value: letter case and blanks don't count, {@code 84,50
 * EUR} is {@code 84.5}, {@code 26.11.2026} is {@code 2026-11-26}. Leading zeros do count: {@code 0217} isn't {@code 217}.
 */
public final class NormalForm {
    /** No date and no amount is written longer than this. */
    private static final int LONGEST_FORM = 40;

    private static final Pattern AMOUNT = Pattern.compile(
            "(?:[€$£]|[A-Z]{3})?\\s*(-?)((?:[1-9]\\d{0,2}(?:[.,' ]\\d{3})+|0|[1-9]\\d*))(?:[.,](\\d{1,2}))?\\s*(?:[€$£]|[A-Z]{3})?");
    private static final Pattern ISO_DATE = Pattern.compile("(\\d{4})-(\\d{2})-(\\d{2})");
    private static final Pattern DAY_FIRST = Pattern.compile("(\\d{1,2})[./](\\d{1,2})[./](\\d{4})");
    private static final Pattern MONTH_NAME =
            Pattern.compile("(\\d{1,2})\\.?\\s{1,3}([A-Za-z]{3})[a-z]{0,10}\\.?,?\\s{1,3}(\\d{4})");
    private static final List<String> MONTHS =
            List.of("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec");
    /** Names, references, addresses and numbers as they stand in running text. */
    private static final Pattern WORD = Pattern.compile("[\\p{L}\\p{N}](?:[\\p{L}\\p{N}@._/:+-]{0,80}[\\p{L}\\p{N}])?");

    private static final Pattern AMOUNT_IN_TEXT = Pattern.compile(
            "(?<![\\p{L}\\p{N}.,])-?\\d[\\d.,' ]{0,24}\\d(?![\\p{L}\\p{N}])|(?<![\\p{L}\\p{N}.,])\\d(?![\\p{L}\\p{N}])");

    private NormalForm() {}

    /** The form of a value that is no object and no list. */
    public static String of(JsonNode leaf) {
        return leaf.isNumber() ? number(leaf.decimalValue()) : of(leaf.asString(""));
    }

    /** The form of a text as a whole. */
    public static String of(String text) {
        String plain = Normalizer.normalize(text, Normalizer.Form.NFKC).strip();
        boolean brief = plain.length() <= LONGEST_FORM;
        String date = brief ? date(plain) : null;
        if (date != null) {
            return date;
        }
        Matcher amount = AMOUNT.matcher(plain);
        if (brief && amount.matches()) {
            String cents = amount.group(3) == null ? "" : "." + amount.group(3);
            return number(new BigDecimal(amount.group(1) + amount.group(2).replaceAll("[.,' ]", "") + cents));
        }
        return plain.replaceAll("\\s+", "").toLowerCase(Locale.ROOT);
    }

    /** The forms of everything that a running text mentions: its words, pairs of words, dates and amounts. */
    public static Set<String> mentioned(String text) {
        String plain = Normalizer.normalize(text, Normalizer.Form.NFKC);
        Set<String> forms = new LinkedHashSet<>();
        Matcher words = WORD.matcher(plain);
        String before = null;
        while (words.find()) {
            String word = words.group();
            forms.add(of(word));
            if (before != null) {
                forms.add((before + word).toLowerCase(Locale.ROOT));
            }
            before = word;
        }
        for (Pattern pattern : List.of(ISO_DATE, DAY_FIRST, MONTH_NAME, AMOUNT_IN_TEXT)) {
            Matcher found = pattern.matcher(plain);
            while (found.find()) {
                forms.add(of(found.group()));
            }
        }
        return forms;
    }

    private static String number(BigDecimal value) {
        return value.signum() == 0 ? "0" : value.stripTrailingZeros().toPlainString();
    }

    private static @Nullable String date(String text) {
        Matcher iso = ISO_DATE.matcher(text);
        if (iso.matches()) {
            return date(iso.group(1), iso.group(2), iso.group(3));
        }
        Matcher dayFirst = DAY_FIRST.matcher(text);
        if (dayFirst.matches()) {
            return date(dayFirst.group(3), dayFirst.group(2), dayFirst.group(1));
        }
        Matcher named = MONTH_NAME.matcher(text);
        if (named.matches()) {
            int month = MONTHS.indexOf(named.group(2).toLowerCase(Locale.ROOT)) + 1;
            return month == 0 ? null : date(named.group(3), String.valueOf(month), named.group(1));
        }
        return null;
    }

    private static @Nullable String date(String year, String month, String day) {
        try {
            return LocalDate.of(Integer.parseInt(year), Integer.parseInt(month), Integer.parseInt(day))
                    .toString();
        } catch (DateTimeException e) {
            return null;
        }
    }
}
