package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.Address;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.Part;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeUtility;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import org.apache.tomcat.util.security.Escape;

/** A page that shows what lies in the mailboxes, as text; nothing in a mail is taken for HTML. */
final class MailPage implements AutoCloseable {
    private static final String ROOM = "room";
    private static final String STYLE = """
            body{font:15px/1.45 system-ui,sans-serif;margin:2rem auto;max-width:70rem;padding:0 1rem;color:#22303a;background:#f7f5ef}
            main{display:grid;grid-template-columns:16rem minmax(0,1fr);gap:2rem}
            @media(max-width:45rem){main{grid-template-columns:minmax(0,1fr)}}
            a{color:#0b5a6b}nav a{display:flex;justify-content:space-between;padding:.2rem .4rem;text-decoration:none}
            nav a[aria-current]{background:#fff;font-weight:600}
            article{background:#fff;border:1px solid #d9d4c5;padding:.8rem 1rem;margin-bottom:1rem}
            h1{font-size:1.3rem}h2{font-size:1.05rem;margin:.2rem 0}p{margin:.2rem 0}
            .head{color:#55636d;font-size:.9rem;overflow-wrap:anywhere}
            pre{white-space:pre-wrap;overflow-wrap:anywhere;font:inherit;margin:.6rem 0 0}
            """;

    private final HttpServer server;
    private final MailHouse house;
    private final ChatRoom room;

    MailPage(int port, MailHouse house, ChatRoom room) {
        this.house = house;
        this.room = room;
        try {
            server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 20);
        } catch (IOException e) {
            throw new UncheckedIOException("port " + port + " can't be listened on", e);
        }
        server.createContext("/", this::answer);
        server.start();
    }

    URI url() {
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort());
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            byte[] page;
            int status = 200;
            boolean json = false;
            try {
                json = exchange.getRequestURI().getPath().equals("/mails.json");
                page = (json ? json(box(exchange)) : page(box(exchange))).getBytes(StandardCharsets.UTF_8);
            } catch (MessagingException | RuntimeException e) {
                status = 500;
                page = "a mail can't be shown".getBytes(StandardCharsets.UTF_8);
            }
            exchange.getResponseHeaders().add("Content-Type", json ? "application/json" : "text/html; charset=utf-8");
            exchange.getResponseHeaders()
                    .add("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'");
            exchange.sendResponseHeaders(status, page.length);
            exchange.getResponseBody().write(page);
        }
    }

    private static String box(HttpExchange exchange) {
        String query = exchange.getRequestURI().getRawQuery();
        return query == null || !query.startsWith("box=")
                ? ""
                : URLDecoder.decode(query.substring("box=".length()), StandardCharsets.UTF_8);
    }

    private String page(String asked) throws MessagingException, IOException {
        String box = house.addresses().containsKey(asked) ? asked : "passengers@" + MailHouse.DOMAIN;
        StringBuilder page =
                new StringBuilder("<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta name=\"viewport\" "
                        + "content=\"width=device-width\"><title>Mailboxes</title><style>" + STYLE
                        + "</style><h1>Mailboxes of the stand-in mail server</h1><main><nav aria-label=\"Mailboxes\">");
        house.addresses()
                .forEach((address, mails) -> page.append("<a href=\"?box=")
                        .append(URLEncoder.encode(address, StandardCharsets.UTF_8))
                        .append(address.equals(box) && !asked.equals(ROOM) ? "\" aria-current=\"page\">" : "\">")
                        .append(safe(address.replace("@" + MailHouse.DOMAIN, "")))
                        .append("<span>")
                        .append(mails)
                        .append("</span></a>"));
        page.append("<a href=\"?box=")
                .append(ROOM)
                .append(asked.equals(ROOM) ? "\" aria-current=\"page\">" : "\">")
                .append("the chat room<span>")
                .append(room.said().size())
                .append("</span></a></nav><div>");
        if (asked.equals(ROOM)) {
            said(page);
            return page.append("</div></main></html>").toString();
        }
        folder(page, "What came to " + box, house.mails(box, MailHouse.INBOX));
        folder(page, "What " + box + " sent", house.mails(box, MailHouse.SENT));
        return page.append("</div></main></html>").toString();
    }

    /** What came, for programs: subject and Message-ID of each. */
    private String json(String box) throws MessagingException, IOException {
        var all = JsonServer.JSON.createArrayNode();
        for (MimeMessage mail : house.mails(box, MailHouse.INBOX)) {
            all.addObject()
                    .put("subject", String.valueOf(mail.getSubject()))
                    .put("id", mail.getMessageID())
                    .put("text", text(mail));
        }
        return all.toString();
    }

    private void said(StringBuilder page) {
        page.append("<h2>What was said in the chat room</h2>");
        List<String> all = room.said();
        for (int i = all.size() - 1; i >= 0; i--) {
            page.append("<article><pre>").append(safe(all.get(i))).append("</pre></article>");
        }
    }

    private static void folder(StringBuilder page, String title, List<MimeMessage> mails)
            throws MessagingException, IOException {
        page.append("<h2>").append(safe(title)).append("</h2>");
        if (mails.isEmpty()) {
            page.append("<p class=\"head\">Nothing.</p>");
        }
        for (int i = mails.size() - 1; i >= 0; i--) {
            MimeMessage mail = mails.get(i);
            page.append("<article><h2>")
                    .append(safe(String.valueOf(mail.getSubject())))
                    .append("</h2><p class=\"head\">from ")
                    .append(safe(addresses(mail.getFrom())))
                    .append(" to ")
                    .append(safe(addresses(mail.getRecipients(Message.RecipientType.TO))))
                    .append("</p>");
            header(page, mail, "Authentication-Results");
            header(page, mail, "Auto-Submitted");
            page.append("<pre>").append(safe(text(mail))).append("</pre></article>");
        }
    }

    private static void header(StringBuilder page, MimeMessage mail, String name) throws MessagingException {
        String[] values = mail.getHeader(name);
        if (values != null) {
            page.append("<p class=\"head\">")
                    .append(safe(name + ": " + values[0]))
                    .append("</p>");
        }
    }

    private static String addresses(Address[] all) throws IOException {
        return all == null
                ? ""
                : MimeUtility.decodeText(
                        Arrays.stream(all).map(Address::toString).collect(Collectors.joining(", ")));
    }

    private static String text(Part part) throws MessagingException, IOException {
        Object content = part.getContent();
        if (content instanceof Multipart parts) {
            return parts.getCount() == 0 ? "" : text(parts.getBodyPart(0));
        }
        return content instanceof String text ? text : "(" + part.getContentType() + ")";
    }

    private static String safe(String text) {
        return Escape.htmlElementContent(text);
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
