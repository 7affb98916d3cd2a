package servitor.core.mail;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A mail as it was read (RFC 5322): bounded, decoded, and believed in nothing.
 *
 * @param messageId without its brackets; empty when it has none
 * @param references the mails it answers, oldest first, without brackets
 * @param from whom it says it is from; more than one is unusual and proves nothing
 * @param text what is written in it, without what it quotes
 * @param headers all of them as they stand, the topmost first
 * @param size of the whole mail, in bytes
 */
public record Mail(
        String messageId,
        List<String> references,
        List<Address> from,
        List<Address> to,
        List<Address> cc,
        String subject,
        String text,
        List<Header> headers,
        List<Attachment> attachments,
        int size) {
    public Mail {
        references = List.copyOf(references);
        from = List.copyOf(from);
        to = List.copyOf(to);
        cc = List.copyOf(cc);
        headers = List.copyOf(headers);
        attachments = List.copyOf(attachments);
    }

    /** {@code name} is what stands beside the address and may be empty. */
    public record Address(String name, String address) {
        /** What stands behind the last {@code @}, in lower case; empty for none. */
        public String domain() {
            int at = address.lastIndexOf('@');
            return at < 0 ? "" : address.substring(at + 1).toLowerCase(Locale.ROOT);
        }

        /** Whether it is the same address; mail servers take the case of letters for nothing in practice. */
        public boolean is(String other) {
            return address.equalsIgnoreCase(other);
        }
    }

    public record Header(String name, String value) {
        public boolean is(String other) {
            return name.equalsIgnoreCase(other);
        }
    }

    /** A part that isn't the text. */
    public record Attachment(String name, String type, byte[] content) {}

    /** Values of a header, the topmost first. */
    public Stream<String> all(String name) {
        return headers.stream().filter(header -> header.is(name)).map(Header::value);
    }

    /** The topmost value of a header. */
    public Optional<String> header(String name) {
        return all(name).findFirst();
    }
}
