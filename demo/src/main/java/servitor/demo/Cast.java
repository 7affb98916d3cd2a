package servitor.demo;

import java.util.List;

/** The people of the demo. */
final class Cast {
    /** Everybody in the demo signs in with this; it is told on the screen and used nowhere else. */
    static final String PASSWORD = "skerry-demo";

    static final List<String> DESKS = List.of("passengers", "it", "people");

    static final List<Member> ALL = List.of(
            new Member("maren", "Maren Tvedt", "automation engineer", "", "engineer", "passengers it", "colleagues"),
            new Member(
                    "osei",
                    "Osei Brandt",
                    "duty manager",
                    "E-101",
                    "approver",
                    "passengers",
                    "duty-managers colleagues"),
            new Member(
                    "lucja", "Lucja Farrow", "duty manager", "", "approver", "passengers", "duty-managers colleagues"),
            new Member("sunniva", "Sunniva Reyes", "ticket clerk", "E-118", "resolver", "passengers", "colleagues"),
            new Member("teun", "Teun Abara", "IT resolver", "E-140", "resolver", "it", "it-resolvers colleagues"),
            new Member(
                    "priya",
                    "Priya Sandoval",
                    "people partner",
                    "",
                    "resolver approver engineer",
                    "people",
                    "people-partners colleagues"),
            new Member(
                    "halvard", "Halvard Quist", "payroll lead", "", "approver", "people", "payroll-leads colleagues"),
            new Member(
                    "dagny", "Dagny Ferreira", "safety officer", "E-155", "approver", "", "safety-officers colleagues"),
            new Member(
                    "noor", "Noor Castellane", "auditor", "", "auditor", "passengers it people", "auditors colleagues"),
            new Member("ewan", "Ewan Mirza", "deckhand", "E-217", "requester", "", "colleagues"),
            new Member("kiosk-watch", "Kiosk watch", "the kiosks' monitor", "", "requester", "", "machines"),
            new Member("yard", "The yard", "the yard's tracker", "", "requester", "", "machines"),
            new Member("ines", "Ines Halloran", "passenger", "P-1042", "requester", "", ""),
            new Member("bram", "Bram Okafor", "passenger", "P-1077", "requester", "", ""),
            new Member("edda", "Edda Quill", "passenger", "P-1190", "requester", "", ""),
            new Member("tomas", "Tomas Ferrel", "passenger", "P-1203", "requester", "", ""));

    /** Who reports to whom. */
    static final java.util.Map<String, String> MANAGERS =
            java.util.Map.of("ewan", "dagny", "sunniva", "osei", "teun", "maren", "dagny", "osei", "osei", "lucja");

    private Cast() {}

    /** One person; roles, desks and groups are lists with blanks between. */
    record Member(String id, String name, String work, String account, String roles, String desks, String groups) {
        static List<String> list(String words) {
            return words.isBlank() ? List.of() : List.of(words.split(" "));
        }
    }
}
