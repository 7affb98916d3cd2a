package servitor.connectors.access;

import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A program of this machine, as in {@code exec:/usr/bin/node?arg=/opt/tools.js&arg=--quiet&env=LANG%3DC}: its whole path, its
 * arguments one by one, and the variables it gets. It gets no others.
 */
public record ProgramAddress(String path, List<String> arguments, Map<String, String> variables) {
    private static final Pattern FORM = Pattern.compile("exec:(/[^\\s?]{1,300})(?:\\?(\\S{1,2000}))?");
    private static final Pattern VARIABLE = Pattern.compile("([A-Za-z_][A-Za-z0-9_]{0,99})=([^\\p{Cntrl}]*)");

    public ProgramAddress {
        arguments = List.copyOf(arguments);
        variables = Map.copyOf(variables);
    }

    /** The program of an address that was checked before. */
    public static ProgramAddress of(URI address) {
        return of(address.toString());
    }

    /** Throws {@link IllegalArgumentException} with a sentence that says what is wrong. */
    public static ProgramAddress of(String address) {
        Matcher form = FORM.matcher(address);
        if (!form.matches() || decoded(form.group(1)).contains("/../")) {
            throw new IllegalArgumentException(
                    "‘" + address
                            + "’ must name a program by its whole path, as in exec:/usr/bin/true or exec:/usr/bin/node?arg=/opt/tools.js.");
        }
        List<String> arguments = new ArrayList<>();
        Map<String, String> variables = new LinkedHashMap<>();
        String query = form.group(2) == null ? "" : form.group(2);
        for (String part : query.isEmpty() ? new String[0] : query.split("&")) {
            String value = decoded(part.substring(part.indexOf('=') + 1));
            Matcher variable = VARIABLE.matcher(value);
            if (part.startsWith("arg=") && value.indexOf('\0') < 0) {
                arguments.add(value);
            } else if (part.startsWith("env=") && variable.matches()) {
                variables.put(variable.group(1), variable.group(2));
            } else {
                throw new IllegalArgumentException("‘" + part
                        + "’ is neither an argument nor a variable of the program; write arg=… or env=NAME%3D….");
            }
        }
        return new ProgramAddress(decoded(form.group(1)), arguments, variables);
    }

    private static String decoded(String text) {
        return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
    }
}
