package servitor.connectors.inbound;

import java.net.URI;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Where messages of a system that signs them come from: {@code hook:signed}, with {@code ?algorithm=} for an HMAC in a header of its
 * own, and {@code vouches=yes} for a system whose word about people is believed.
 *
 * @param algorithm of an HMAC in a header: {@code sha256}, {@code sha384} or {@code sha512}
 * @param vouches whether the people its messages name count as verified
 */
public record HookAddress(String algorithm, boolean vouches) {
    public static final String SCHEME = "hook";
    private static final String SIGNED = "signed";
    private static final List<String> ALGORITHMS = List.of("sha256", "sha384", "sha512");

    /** Throws {@link IllegalArgumentException} saying what can't be so. */
    public static HookAddress of(URI address) {
        String[] parts = String.valueOf(address.getRawSchemeSpecificPart()).split("\\?", 2);
        if (!SCHEME.equals(address.getScheme()) || !parts[0].equals(SIGNED)) {
            throw wrong(address);
        }
        Map<String, String> said = new LinkedHashMap<>();
        if (parts.length == 2) {
            Arrays.stream(parts[1].split("&", -1)).map(one -> one.split("=", 2)).forEach(pair -> {
                if (pair.length < 2 || said.put(pair[0], pair[1]) != null) {
                    throw wrong(address);
                }
            });
        }
        String algorithm = said.getOrDefault("algorithm", ALGORITHMS.get(0));
        String vouches = said.getOrDefault("vouches", "no");
        said.remove("algorithm");
        said.remove("vouches");
        if (!said.isEmpty()
                || !ALGORITHMS.contains(algorithm)
                || !List.of("yes", "no").contains(vouches)) {
            throw wrong(address);
        }
        return new HookAddress(algorithm, vouches.equals("yes"));
    }

    private static IllegalArgumentException wrong(URI address) {
        return new IllegalArgumentException(
                "‘" + address + "’ must be hook:signed, which may be followed by ?vouches=yes (people "
                        + "that its messages name count as verified) and algorithm=sha256, sha384 or sha512 (of an HMAC in a header), "
                        + "with & between them.");
    }
}
