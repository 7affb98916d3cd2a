package servitor.connectors.mail;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.Reader;
import java.io.Serial;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import org.apache.james.mime4j.codec.DecodeMonitor;
import org.apache.james.mime4j.codec.DecoderUtil;
import org.apache.james.mime4j.dom.Body;
import org.apache.james.mime4j.dom.Entity;
import org.apache.james.mime4j.dom.Message;
import org.apache.james.mime4j.dom.Multipart;
import org.apache.james.mime4j.dom.SingleBody;
import org.apache.james.mime4j.dom.TextBody;
import org.apache.james.mime4j.dom.address.Mailbox;
import org.apache.james.mime4j.dom.field.ContentTypeField;
import org.apache.james.mime4j.field.address.LenientAddressParser;
import org.apache.james.mime4j.message.DefaultMessageBuilder;
import org.apache.james.mime4j.message.DefaultMessageWriter;
import org.apache.james.mime4j.stream.Field;
import org.apache.james.mime4j.stream.MimeConfig;
import org.apache.james.mime4j.util.MimeUtil;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import servitor.core.mail.Mail;
import servitor.core.mail.Mail.Address;
import servitor.core.mail.Mail.Attachment;
import servitor.core.mail.Mail.Header;
import servitor.core.mail.Quoted;

/**
 * Reads a mail's bytes. Whatever they hold, something bounded comes of them, or a sentence that says why not. Text is taken from plain
 * text where there is one, else from HTML with all that isn't text left out; nothing that a mail names is ever loaded.
 */
public final class MailParser {
    /** Larger mails aren't read. */
    public static final int MOST_BYTES = 35_000_000;

    private static final int MOST_PARTS = 300;
    private static final int DEEPEST = 20;
    private static final int MOST_HEADERS = 1_000;
    private static final int LONGEST_HEADER = 20_000;
    private static final int LONGEST_TEXT = 200_000;
    private static final int MOST_REFERENCES = 50;
    private static final int MOST_ADDRESSES = 200;
    private static final int LONGEST_NAME = 120;
    private static final Pattern REFERENCE = Pattern.compile("<([^<>\\s]{1,400})>");

    private final List<String> plain = new ArrayList<>();
    private final List<String> html = new ArrayList<>();
    private final List<Attachment> attachments = new ArrayList<>();
    private int parts;

    private MailParser() {}

    /** A mail can't be read; the message says why. */
    public static final class Unreadable extends Exception {
        @Serial
        private static final long serialVersionUID = 1L;

        Unreadable(String message) {
            super(message);
        }
    }

    /** What a mail says; throws {@link Unreadable} with a sentence when it can't be read. */
    public static Mail parse(byte[] raw) throws Unreadable {
        if (raw.length > MOST_BYTES) {
            throw new Unreadable("it has more than " + MOST_BYTES + " bytes");
        }
        DefaultMessageBuilder builder = new DefaultMessageBuilder();
        builder.setMimeEntityConfig(MimeConfig.custom()
                .setMaxHeaderCount(MOST_HEADERS)
                .setMaxHeaderLen(LONGEST_HEADER)
                .setMaxLineLen(-1)
                .setMaxContentLen(MOST_BYTES)
                .build());
        builder.setDecodeMonitor(DecodeMonitor.SILENT);
        try {
            Message message = builder.parseMessage(new ByteArrayInputStream(raw));
            try {
                MailParser parser = new MailParser();
                parser.read(message, 0);
                return parser.mail(message, raw.length);
            } finally {
                message.dispose();
            }
        } catch (IOException | RuntimeException e) {
            throw new Unreadable("it isn't built as mails are: " + firstLine(e));
        }
    }

    private static String firstLine(Exception e) {
        String said = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
        return said.length() > 200 ? said.substring(0, 200) : said;
    }

    private Mail mail(Message message, int size) {
        List<Header> headers = message.getHeader().getFields().stream()
                .map(field -> new Header(field.getName(), oneLine(MimeUtil.unfold(field.getBody()))))
                .toList();
        String text = plain.isEmpty() ? String.join("\n\n", html) : String.join("\n\n", plain);
        String bounded = text.length() > LONGEST_TEXT ? text.substring(0, LONGEST_TEXT) : text;
        return new Mail(
                references(headers, "Message-ID").stream().findFirst().orElse(""),
                answered(headers),
                addresses(message, "From"),
                addresses(message, "To"),
                addresses(message, "Cc"),
                subject(message),
                Quoted.without(bounded.replace("\u0000", "")),
                headers,
                attachments,
                size);
    }

    private static String subject(Message message) {
        Field field = message.getHeader().getField("Subject");
        String subject = field == null ? "" : decoded(field.getBody());
        return subject.length() > 1_000 ? subject.substring(0, 1_000) : subject;
    }

    private static String decoded(String body) {
        return oneLine(
                DecoderUtil.decodeEncodedWords(MimeUtil.unfold(body), DecodeMonitor.SILENT, StandardCharsets.UTF_8));
    }

    private static String oneLine(String text) {
        return text.replaceAll("[\\p{Cntrl}\\s\\u2028\\u2029]+", " ").strip();
    }

    private static List<String> answered(List<Header> headers) {
        List<String> all = new ArrayList<>(references(headers, "References"));
        references(headers, "In-Reply-To").stream()
                .filter(one -> !all.contains(one))
                .forEach(all::add);
        return all.subList(Math.max(0, all.size() - MOST_REFERENCES), all.size());
    }

    private static List<String> references(List<Header> headers, String name) {
        return headers.stream()
                .filter(header -> header.is(name))
                .flatMap(header -> REFERENCE.matcher(header.value()).results())
                .map(found -> found.group(1))
                .toList();
    }

    /** Of every header of this name, should there be several. */
    private static List<Address> addresses(Message message, String name) {
        List<Address> all = new ArrayList<>();
        for (Field field : message.getHeader().getFields(name)) {
            for (Mailbox one : LenientAddressParser.DEFAULT
                    .parseAddressList(MimeUtil.unfold(field.getBody()))
                    .flatten()) {
                if (all.size() < MOST_ADDRESSES
                        && one.getAddress() != null
                        && !one.getAddress().isBlank()) {
                    all.add(new Address(shown(one.getName()), oneLine(one.getAddress())));
                }
            }
        }
        return all;
    }

    private static String shown(String name) {
        String shown = name == null ? "" : decoded(name);
        return shown.length() > LONGEST_NAME ? shown.substring(0, LONGEST_NAME) : shown;
    }

    private void read(Entity entity, int depth) throws IOException, Unreadable {
        if (++parts > MOST_PARTS || depth > DEEPEST) {
            throw new Unreadable("it has more than " + MOST_PARTS + " parts, or parts within parts too deeply");
        }
        Body body = entity.getBody();
        if (body instanceof Multipart multipart) {
            readParts(multipart, depth);
        } else if (body instanceof Message nested) {
            attach(entity, "message.eml", "message/rfc822", bytes(nested));
        } else if (body instanceof TextBody text && isText(entity)) {
            (entity.getMimeType().equalsIgnoreCase("text/html") ? html : plain).add(written(entity, text));
        } else if (body instanceof SingleBody single) {
            attach(entity, "part-" + parts, type(entity), bytes(single));
        }
    }

    /** Of alternatives, plain text is the text; each other part is read for itself. */
    private void readParts(Multipart multipart, int depth) throws IOException, Unreadable {
        boolean alternatives = "alternative".equalsIgnoreCase(multipart.getSubType());
        boolean hasPlain = multipart.getBodyParts().stream()
                .anyMatch(part -> "text/plain".equalsIgnoreCase(part.getMimeType()) && isText(part));
        for (Entity part : multipart.getBodyParts()) {
            if (!(alternatives && hasPlain && "text/html".equalsIgnoreCase(part.getMimeType()))) {
                read(part, depth + 1);
            }
        }
    }

    private static boolean isText(Entity entity) {
        String type = String.valueOf(entity.getMimeType()).toLowerCase(Locale.ROOT);
        return (type.equals("text/plain") || type.equals("text/html"))
                && !"attachment".equalsIgnoreCase(entity.getDispositionType())
                && filename(entity).isEmpty();
    }

    private static String written(Entity entity, TextBody body) throws IOException {
        String text;
        try (Reader reader = body.getReader()) {
            text = text(reader);
        } catch (IOException | RuntimeException e) {
            text = new String(bytes(body), StandardCharsets.UTF_8); // a set of letters that nobody knows
        }
        return entity.getMimeType().equalsIgnoreCase("text/html") ? ofHtml(text) : text.replace("\r\n", "\n");
    }

    private static String text(Reader reader) throws IOException {
        char[] some = new char[LONGEST_TEXT];
        StringBuilder all = new StringBuilder();
        for (int read = reader.read(some); read >= 0 && all.length() < LONGEST_TEXT; read = reader.read(some)) {
            all.append(some, 0, read);
        }
        return all.toString();
    }

    /** The words of a page, without what it quotes and without anything that isn't shown. */
    private static String ofHtml(String text) {
        Document page = Jsoup.parse(text);
        page.outputSettings().prettyPrint(false);
        page.select("script, style, head, title, template, noscript, blockquote, form, object, iframe")
                .remove();
        page.select("[hidden], [style~=(?i)display\\s*:\\s*none]").remove();
        page.select("p, div, tr, li, h1, h2, h3, h4, h5, h6, table, ul, ol, pre")
                .before("\n");
        return page.wholeText()
                .replace("\u00a0", " ")
                .replaceAll("[ \\t]+\n", "\n")
                .replaceAll("\n[ \\t]+", "\n")
                .replaceAll("\n{3,}", "\n\n")
                .strip();
    }

    private void attach(Entity entity, String otherwise, String type, byte[] content) {
        String named = filename(entity).map(MailParser::decoded).orElse("");
        String safe = named.replaceAll("[/\\\\:*?\"<>|\\p{Cntrl}\\u202a-\\u202e\\u2066-\\u2069]+", "_")
                .strip();
        String name = safe.isEmpty() || safe.chars().allMatch(c -> c == '.') ? otherwise : safe;
        attachments.add(
                new Attachment(name.length() > 200 ? name.substring(name.length() - 200) : name, type, content));
    }

    /** Where it should stand (RFC 2183), or where it stood before that was said. */
    private static Optional<String> filename(Entity entity) {
        return Optional.ofNullable(entity.getFilename())
                .filter(name -> !name.isBlank())
                .or(() -> entity.getHeader().getField("Content-Type") instanceof ContentTypeField type
                        ? Optional.ofNullable(type.getParameter("name"))
                        : Optional.empty());
    }

    private static String type(Entity entity) {
        String type = String.valueOf(entity.getMimeType()).toLowerCase(Locale.ROOT);
        return type.matches("[a-z]+/[a-z0-9.+-]{1,80}") ? type : "application/octet-stream";
    }

    private static byte[] bytes(SingleBody body) throws IOException {
        try (InputStream in = body.getInputStream()) {
            return in.readNBytes(MOST_BYTES);
        }
    }

    private static byte[] bytes(Message nested) {
        try (java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream()) {
            new DefaultMessageWriter().writeMessage(nested, out);
            return out.toByteArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
