package servitor.core.handbook;

import org.jspecify.annotations.Nullable;

/**
 * People who answer or own together; members are kept in the ledger.
 *
 * @param room where they are told things by chat; null when they aren't
 */
public record Group(String name, String title, @Nullable String room) {}
