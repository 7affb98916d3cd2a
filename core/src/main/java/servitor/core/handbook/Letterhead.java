package servitor.core.handbook;

import java.util.Map;

/**
 * What the mails of a desk look like, and where they go out.
 *
 * @param connection a mail server that takes mails to be sent
 * @param address whom they are from; answers come to it
 * @param name what stands beside the address
 * @param signature what stands under every mail, by language
 * @param label what stands over words of a machine, by language
 * @param personal what stands in mails about personal cases instead of the text, by language; a link follows it
 * @param language the language of what isn't said in the case's
 */
public record Letterhead(
        String connection,
        String address,
        String name,
        Map<String, String> signature,
        Map<String, String> label,
        Map<String, String> personal,
        String language) {
    public Letterhead {
        signature = Map.copyOf(signature);
        label = Map.copyOf(label);
        personal = Map.copyOf(personal);
    }

    /** The signature in {@code wanted}, or else in the desk's own language. */
    public String signatureIn(String wanted) {
        return in(wanted, signature);
    }

    /** The label of words of a machine in {@code wanted}, or else in the desk's own language. */
    public String labelIn(String wanted) {
        return in(wanted, label);
    }

    /** What is said of a personal case in {@code wanted}, or else in the desk's own language, or else in English. */
    public String personalIn(String wanted) {
        String said = in(wanted, personal);
        return said.isEmpty() ? "There is something new in your case. You can read it here:" : said;
    }

    private String in(String wanted, Map<String, String> texts) {
        String general = wanted.split("-", 2)[0];
        return texts.getOrDefault(wanted, texts.getOrDefault(general, texts.getOrDefault(language, "")));
    }
}
