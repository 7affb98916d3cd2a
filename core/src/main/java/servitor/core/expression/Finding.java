package servitor.core.expression;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.types.SimpleType;
import dev.cel.runtime.CelFunctionBinding;

/**
 * {@code find(text, pattern)}: the first part of a text that a pattern (RE2) matches, or what its first group holds; an empty text when
 * there is none. It takes time in proportion to the text, whatever the pattern.
 */
final class Finding {
    private static final String OVERLOAD = "find_string_string";

    static final CelFunctionDecl DECLARED = CelFunctionDecl.newFunctionDeclaration(
            "find",
            CelOverloadDecl.newGlobalOverload(OVERLOAD, SimpleType.STRING, SimpleType.STRING, SimpleType.STRING));

    static final CelFunctionBinding BOUND =
            CelFunctionBinding.from(OVERLOAD, String.class, String.class, Finding::find);

    private Finding() {}

    private static String find(String text, String pattern) {
        try {
            Matcher matcher = Pattern.compile(pattern).matcher(text);
            if (!matcher.find()) {
                return "";
            }
            String found = matcher.groupCount() > 0 ? matcher.group(1) : matcher.group();
            return found == null ? "" : found;
        } catch (PatternSyntaxException e) {
            throw new IllegalArgumentException("‘" + pattern + "’ isn't a pattern: " + e.getDescription(), e);
        }
    }
}
