package servitor.standins;

import java.util.List;

/** Everybody whom the ferry line employs, and those who join it soon. */
public final class Crew {
    public static final List<Employee> ALL = List.of(
            new Employee("E-217", "Ewan Mirza", "Deckhand"),
            new Employee("E-118", "Sunniva Reyes", "Ticket clerk"),
            new Employee("E-101", "Osei Brandt", "Duty manager"),
            new Employee("E-140", "Teun Abara", "IT resolver"),
            new Employee("E-155", "Dagny Ferreira", "Safety officer"),
            new Employee("E-221", "Marisol Tarn", "Deckhand"),
            new Employee("E-222", "Corin Vasquell", "Engineer of the watch"),
            new Employee("E-223", "Jorunn Adair", "Mate"),
            new Employee("E-224", "Pell Okonjo", "Ticket clerk"),
            new Employee("E-225", "Sorcha Lindqvane", "Cook"),
            new Employee("E-226", "Anselm Rook", "Deckhand"),
            new Employee("E-227", "Yara Fennimore", "Ticket clerk"),
            new Employee("E-301", "Runa Castell", "Ticket clerk from December on"),
            new Employee("E-302", "Ilse Varga-Holt", "Ticket clerk"),
            new Employee("E-303", "Dunstan Eyre", "Deckhand"),
            new Employee("E-304", "Mirela Strand", "Ticket clerk"),
            new Employee("E-305", "Oke Tamber", "Mate"),
            new Employee("E-306", "Liv Caradec", "Cook"),
            new Employee("E-307", "Tarek Sandmoor", "Deckhand"));

    private Crew() {}

    /** One of them, by the account that the directory and the pay office know. */
    public record Employee(String account, String name, String title) {
        /** The first name in small letters: what they sign in with, and their mail before the ‘@’. */
        public String id() {
            return name.substring(0, name.indexOf(' ')).toLowerCase(java.util.Locale.ROOT);
        }
    }
}
