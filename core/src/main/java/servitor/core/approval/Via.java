package servitor.core.approval;

import java.util.Locale;

/** By which way somebody saw an approval, or answered it. */
public enum Via {
    CONSOLE,
    COMMAND_LINE,
    API,
    /** A link in a mail, without signing in. */
    LINK,
    /** A mail that answers the one that asked. */
    MAIL;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Whether nothing but what was mailed to them says who it is. */
    public boolean isByMail() {
        return this == LINK || this == MAIL;
    }
}
