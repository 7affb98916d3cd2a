package servitor.demo;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryPoolMXBean;
import java.lang.management.MemoryType;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.SmartLifecycle;
import servitor.cli.command.HandbookFolder;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.mail.MailFolder;
import servitor.connectors.mail.MailParser;
import servitor.service.Precondition;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.connections.Connections;
import servitor.service.connections.SignInForm;

/**
 * Mails into cases that start no page: how many a second beside fetching and parsing the same mails, how long one takes from its
 * arrival on, and how much memory a large one takes. The mail server is a real one of Debian's.
 */
public final class MailBench {
    private static final String BOX = "passengers";
    private static final int LARGE = 30_000_000;
    private static final double MIB = 1024 * 1024;
    private static final int ROUNDS = 5;
    private static final int ONE_BY_ONE = 200;
    private static final long PATIENCE = 300;
    private static final String INTAKE = "title: Mails\nfrom: mail\nconnection: bench-mailbox\nkind: complaint\n";

    private final MailHost host;
    private final Access access;
    private int written;

    private MailBench(MailHost host) {
        this.host = host;
        this.access = new Access(host.imap(), new Credentials.Password(BOX, MailHost.PASSWORD), true);
    }

    public static void main(String[] args) throws Exception {
        int mails = args.length > 0 ? Integer.parseInt(args[0]) : 1_000;
        if (!MailHost.isThere()) {
            System.err.println("It needs Dovecot and Postfix, and to be root: apt-get install dovecot-imapd postfix");
            System.exit(2);
        }
        try (MailHost host = new MailHost(List.of(BOX))) {
            new MailBench(host).measure(Files.createTempDirectory("servitor-mails-"), mails);
        }
        System.exit(0);
    }

    private void measure(Path folder, int mails) throws Exception {
        ConfigurableApplicationContext context = SmallService.start(
                Files.createDirectories(folder.resolve("data")),
                handbook(folder.resolve("handbook")),
                "http://127.0.0.1:9/",
                "http://127.0.0.1:9/");
        CaseStore cases = context.getBean(CaseStore.class);
        SmartLifecycle reading = context.getBean("mailPoller", SmartLifecycle.class);
        connect(context);
        double bare = 0;
        double taken = 0;
        for (int round = 1; round <= ROUNDS; round++) {
            reading.stop();
            long before = lastUid();
            int already = written;
            write(mails);
            bare = mails / fetched(before, mails);
            reading.start();
            long begun = awaitCases(cases, already + 1);
            taken = (mails - 1) / seconds(begun, awaitCases(cases, written));
            System.out.printf("round %d: %8.1f mails a second, %.1f fetched and parsed alone%n", round, taken, bare);
        }
        System.out.printf("ratio                     %8.2f%n", taken / bare);
        oneByOne(cases);
        reading.stop();
        large(cases, reading);
        context.close();
    }

    private static Path handbook(Path folder) throws IOException {
        Map<String, String> files = HandbookFolder.read(Path.of("demo/handbook"));
        files.keySet().removeIf(path -> path.startsWith("runbooks/") || path.startsWith("intake/"));
        files.put("intake/bench.yaml", INTAKE);
        for (Map.Entry<String, String> file : files.entrySet()) {
            Path to = folder.resolve(file.getKey());
            Files.createDirectories(to.getParent());
            Files.writeString(to, file.getValue());
        }
        return folder;
    }

    private void connect(ConfigurableApplicationContext context) {
        SignInForm password = new SignInForm("password", BOX, MailHost.PASSWORD, null, null, null, null, null, null);
        context.getBean(Connections.class)
                .put(
                        "bench-mailbox",
                        new Connections.Settings(access.address().toString(), null, password, true),
                        "admin",
                        Precondition.NONE);
    }

    private void write(int mails) {
        for (int i = 0; i < mails; i++) {
            write("Content-Type: text/plain\r\n", "It was cold.");
        }
    }

    private void write(String headers, String text) {
        String id = "mail-" + written++;
        host.deliver(
                BOX,
                id,
                "From: ines@skerryline.example\r\nTo: passengers@skerryline.example\r\nSubject: " + id
                        + "\r\nMessage-ID: <" + id + "@bench.example>\r\n" + headers + "\r\n" + text + "\r\n");
    }

    private long lastUid() throws MailFolder.Trouble {
        try (MailFolder folder = MailFolder.open(access, "INBOX")) {
            List<Long> all = folder.after(0, Integer.MAX_VALUE);
            return all.isEmpty() ? 0 : all.get(all.size() - 1);
        }
    }

    /** Fetches and parses what lies behind {@code uid}; gives how long that took, in seconds. */
    private double fetched(long uid, int mails) throws Exception {
        long start = System.nanoTime();
        try (MailFolder folder = MailFolder.open(access, "INBOX")) {
            List<Long> all = folder.after(uid, mails);
            for (long one : all) {
                MailParser.parse(folder.bytes(one).orElseThrow());
            }
        }
        return seconds(start, System.nanoTime());
    }

    private static double seconds(long from, long to) {
        return (to - from) / 1e9;
    }

    /** Waits until there are so many cases, and gives the time. */
    private static long awaitCases(CaseStore cases, int count) {
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE);
        while (newest(cases) < 1_000 + count) {
            if (System.nanoTime() > until) {
                throw new IllegalStateException("there are only " + (newest(cases) - 1_000) + " cases of " + count);
            }
            LockSupport.parkNanos(3_000_000);
        }
        return System.nanoTime();
    }

    private static long newest(CaseStore cases) {
        return cases.list("", List.of("passengers"), CaseFilter.ALL, Long.MAX_VALUE, 1).stream()
                .mapToLong(CaseRow::number)
                .findFirst()
                .orElse(1_000);
    }

    private void oneByOne(CaseStore cases) {
        List<Long> took = new ArrayList<>();
        for (int i = 0; i < ONE_BY_ONE; i++) {
            write(1);
            long arrived = System.nanoTime();
            took.add(awaitCases(cases, written) - arrived);
        }
        long[] sorted = took.stream().mapToLong(Long::longValue).sorted().toArray();
        System.out.printf(
                "from arrival to the case  %8.1f ms at p50, %.1f ms at p99%n",
                sorted[sorted.length / 2] / 1e6, sorted[(int) (sorted.length * 0.99)] / 1e6);
    }

    /** The most that was in use while a large mail became a case, what the collector hasn't seen to included. */
    private void large(CaseStore cases, SmartLifecycle reading) {
        String line = Base64.getEncoder().encodeToString(new byte[57]) + "\r\n";
        write(
                "Content-Type: multipart/mixed; boundary=b\r\n",
                "--b\r\n\r\nIt was cold.\r\n--b\r\nContent-Type: image/png; name=\"cabin.png\"\r\n"
                        + "Content-Disposition: attachment\r\nContent-Transfer-Encoding: base64\r\n\r\n"
                        + line.repeat(LARGE / line.length()) + "--b--\r\n");
        System.gc();
        long before = ManagementFactory.getMemoryMXBean().getHeapMemoryUsage().getUsed();
        heap().forEach(MemoryPoolMXBean::resetPeakUsage);
        reading.start();
        awaitCases(cases, written);
        long peak =
                heap().stream().mapToLong(pool -> pool.getPeakUsage().getUsed()).sum();
        System.out.printf(
                "a mail of 30 MB           %8.0f MiB of heap at most, %.0f before%n", peak / MIB, before / MIB);
    }

    private static List<MemoryPoolMXBean> heap() {
        return ManagementFactory.getMemoryPoolMXBeans().stream()
                .filter(pool -> pool.getType() == MemoryType.HEAP)
                .toList();
    }
}
