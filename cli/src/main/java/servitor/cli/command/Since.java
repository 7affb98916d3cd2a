package servitor.cli.command;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.TypeConversionException;

/** How far back, in days: {@code 30d}, {@code 12w}, or just {@code 30}. */
final class Since implements ITypeConverter<Integer> {
    private static final Pattern TEXT = Pattern.compile("([0-9]{1,4})([dw]?)");
    private static final int WEEK = 7;

    @Override
    public Integer convert(String text) {
        Matcher found = TEXT.matcher(text);
        if (!found.matches()) {
            throw new TypeConversionException("‘" + text + "’ isn't how far back; write 30d or 12w.");
        }
        return Integer.parseInt(found.group(1)) * (found.group(2).equals("w") ? WEEK : 1);
    }
}
