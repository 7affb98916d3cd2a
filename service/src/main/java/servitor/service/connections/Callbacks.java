package servitor.service.connections;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.stereotype.Component;
import servitor.service.ServitorSettings;

/**
 * The addresses that outside systems call back at when work is done that a call has started. An address holds a token, which is
 * that call's key, signed: nobody makes up another one. It opens nothing but a look at how far the work is.
 */
@Component
public class Callbacks {
    /** Where they are, below the service's own address. */
    public static final String PATH = "/api/callbacks/";

    private static final Pattern TOKEN = Pattern.compile("([A-Za-z0-9-]{1,60})\\.([A-Za-z0-9_-]{43})");

    private final KeyRing keys;
    private final ServitorSettings settings;

    Callbacks(KeyRing keys, ServitorSettings settings) {
        this.keys = keys;
        this.settings = settings;
    }

    /** Where the call with this key is called back at. */
    public String address(String key) {
        return settings.address().toString().replaceAll("/+$", "") + PATH + key + "." + keys.sign(signed(key));
    }

    /** The key of the call that a token was made for; empty for a token that this service didn't make. */
    public Optional<String> keyOf(String token) {
        Matcher matcher = TOKEN.matcher(token);
        return matcher.matches() && keys.hasSigned(signed(matcher.group(1)), matcher.group(2))
                ? Optional.of(matcher.group(1))
                : Optional.empty();
    }

    private static String signed(String key) {
        return "callback " + key;
    }
}
