package servitor.core.handbook;

import java.util.Map;

/**
 * Where the values of a block or file stand, by the keys and positions that lead to them, joined with dots.
 *
 * @param top where the whole stands
 */
public record Places(Place top, Map<String, Place> byKey) {
    public Places {
        byKey = Map.copyOf(byKey);
    }

    static Places none(Place top) {
        return new Places(top, Map.of());
    }

    /** Where the value of {@code key} stands, such as {@code with.amount}; when it has none, the nearest one around it. */
    public Place of(String key) {
        for (String at = key; !at.isEmpty(); at = at.substring(0, Math.max(0, at.lastIndexOf('.')))) {
            Place found = byKey.get(at);
            if (found != null) {
                return found;
            }
        }
        return top;
    }

    public boolean has(String key) {
        return byKey.containsKey(key);
    }
}
