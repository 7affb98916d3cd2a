package servitor.core.handbook.read;

import java.util.List;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.handbook.DirectoryLayout.Groups;
import servitor.core.handbook.DirectoryLayout.People;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;

/** Reads how a directory keeps people and groups: the name of a common way, or where it differs from one. */
final class LayoutReader {
    private static final String ATTRIBUTE = "[A-Za-z][A-Za-z0-9-]{0,63}";
    private static final String INET = "inet";

    private final Findings findings;

    LayoutReader(Findings findings) {
        this.findings = findings;
    }

    DirectoryLayout read(Keys file) {
        if (!file.has("layout")) {
            return DirectoryLayout.INET;
        }
        Yaml value = file.value("layout");
        if (!value.isMap()) {
            return common(value, value.text());
        }
        Keys keys = Keys.of(value, findings, List.of("like", "people", "groups"));
        DirectoryLayout like = common(keys.has("like") ? keys.value("like") : value, keys.text("like", INET));
        return new DirectoryLayout(
                people(
                        Keys.of(
                                keys.value("people"),
                                findings,
                                List.of(
                                        "class",
                                        "base",
                                        "filter",
                                        "account",
                                        "name",
                                        "mail",
                                        "title",
                                        "locked",
                                        "unlocked")),
                        like.people()),
                groups(
                        Keys.of(
                                keys.value("groups"),
                                findings,
                                List.of("class", "base", "filter", "name", "member", "by-account", "nested")),
                        like.groups()));
    }

    private DirectoryLayout common(Yaml at, String name) {
        DirectoryLayout known = DirectoryLayout.COMMON.get(name);
        if (known == null) {
            findings.error(
                    at.place(),
                    Code.BINDING,
                    "‘" + name + "’ is no common layout of a directory.",
                    Suggest.remedy(name, DirectoryLayout.COMMON.keySet()));
            return DirectoryLayout.INET;
        }
        return known;
    }

    private People people(Keys keys, People like) {
        return new People(
                attribute(keys, "class", like.objectClass()),
                keys.text("base", like.base()),
                filter(keys, like.filter()),
                attribute(keys, "account", like.account()),
                attribute(keys, "name", like.name()),
                attribute(keys, "mail", like.mail()),
                attribute(keys, "title", like.title()),
                attribute(keys, "locked", like.locked()),
                keys.text("unlocked", like.unlocked()));
    }

    private Groups groups(Keys keys, Groups like) {
        return new Groups(
                attribute(keys, "class", like.objectClass()),
                keys.text("base", like.base()),
                filter(keys, like.filter()),
                attribute(keys, "name", like.name()),
                attribute(keys, "member", like.member()),
                keys.has("by-account") ? keys.yes("by-account") : like.byAccount(),
                keys.has("nested") ? keys.yes("nested") : like.nested());
    }

    /** One filter in parentheses (RFC 4515); those of its values are written as {@code \\28} and {@code \\29}. */
    private String filter(Keys keys, String otherwise) {
        String filter = keys.text("filter", otherwise);
        int open = 0;
        boolean sound = filter.isEmpty() || filter.startsWith("(") && filter.contains("=");
        for (int i = 0; i < filter.length() && sound; i++) {
            open += filter.charAt(i) == '(' ? 1 : filter.charAt(i) == ')' ? -1 : 0;
            sound = open > 0 || open == 0 && i == filter.length() - 1;
        }
        if (!sound || open != 0) {
            findings.error(
                    keys.value("filter").place(),
                    Code.TYPE,
                    "‘" + filter + "’ can't be a filter of a directory.",
                    "Write one in parentheses, as in ‘(employeeType=crew)’ or ‘(&(a=b)(c=d))’.");
            return otherwise;
        }
        return filter;
    }

    /** Names of classes and attributes (RFC 4512, section 2.5). */
    private String attribute(Keys keys, String key, String otherwise) {
        String name = keys.text(key, otherwise);
        if (!name.matches(ATTRIBUTE)) {
            findings.error(
                    keys.value(key).place(),
                    Code.TYPE,
                    "‘" + name + "’ can't be the name of a class or an attribute.",
                    "Write it as the directory's schema does, as in ‘uid’.");
            return otherwise;
        }
        return name;
    }
}
