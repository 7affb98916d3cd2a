package servitor.cli.output;

import java.io.StringWriter;
import java.util.List;
import java.util.Locale;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** Results in the XML that build servers read from JUnit: a suite of test cases, each with its failure. */
public final class JUnitReport {
    private JUnitReport() {}

    /** One test; {@code differences} are empty when it passed. */
    public record Test(String name, String title, List<String> differences, double millis) {}

    /** The report of a suite. */
    public static String of(String suite, List<Test> tests) {
        StringWriter text = new StringWriter();
        try {
            XMLStreamWriter xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
            xml.writeStartDocument("UTF-8", "1.0");
            xml.writeStartElement("testsuite");
            xml.writeAttribute("name", suite);
            xml.writeAttribute("tests", String.valueOf(tests.size()));
            xml.writeAttribute(
                    "failures",
                    String.valueOf(tests.stream()
                            .filter(test -> !test.differences().isEmpty())
                            .count()));
            xml.writeAttribute("errors", "0");
            xml.writeAttribute(
                    "time", seconds(tests.stream().mapToDouble(Test::millis).sum()));
            for (Test test : tests) {
                write(xml, suite, test);
            }
            xml.writeEndElement();
            xml.writeEndDocument();
            xml.close();
            return text + "\n";
        } catch (XMLStreamException e) {
            throw new IllegalStateException("a text takes everything that is written", e);
        }
    }

    private static void write(XMLStreamWriter xml, String suite, Test test) throws XMLStreamException {
        xml.writeCharacters("\n  ");
        xml.writeStartElement("testcase");
        xml.writeAttribute("classname", suite);
        xml.writeAttribute("name", test.name());
        xml.writeAttribute("time", seconds(test.millis()));
        if (!test.differences().isEmpty()) {
            xml.writeStartElement("failure");
            xml.writeAttribute(
                    "message", plain(test.title() + ": " + test.differences().get(0)));
            xml.writeCharacters(plain(String.join("\n", test.differences())));
            xml.writeEndElement();
        }
        xml.writeEndElement();
    }

    /** Without the characters that XML can't hold (XML 1.0, section 2.2). */
    private static String plain(String text) {
        return text.replaceAll("[^\\x09\\x0A\\x0D\\x20-\\uD7FF\\uE000-\\uFFFD]", "\uFFFD");
    }

    private static String seconds(double millis) {
        return String.format(Locale.ROOT, "%.3f", millis / 1e3);
    }
}
