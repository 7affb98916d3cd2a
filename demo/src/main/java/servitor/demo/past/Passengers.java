package servitor.demo.past;

import java.util.List;

/** The passengers who have written in the past, besides those of the cast. */
final class Passengers {
    static final List<Passenger> ALL = List.of(
            new Passenger("P-2001", "Aldith Marrow", "en"),
            new Passenger("P-2002", "Benno Kestrel", "de"),
            new Passenger("P-2003", "Calla Wexford", "en"),
            new Passenger("P-2004", "Davin Sorrel", "en"),
            new Passenger("P-2005", "Elke Brandstrom", "de"),
            new Passenger("P-2006", "Fintan Gale", "en"),
            new Passenger("P-2007", "Gisela Ahorn", "de"),
            new Passenger("P-2008", "Hollis Pembrey", "en"),
            new Passenger("P-2009", "Isaura Quint", "fr"),
            new Passenger("P-2010", "Jasper Thorne", "en"),
            new Passenger("P-2011", "Katrin Seewald", "de"),
            new Passenger("P-2012", "Lorcan Wynd", "en"),
            new Passenger("P-2013", "Maelle Corbin", "fr"),
            new Passenger("P-2014", "Nessa Holloway", "en"),
            new Passenger("P-2015", "Odran Pike", "en"),
            new Passenger("P-2016", "Petra Lindau", "de"),
            new Passenger("P-2017", "Quinlan Frey", "en"),
            new Passenger("P-2018", "Rosalind Ames", "en"),
            new Passenger("P-2019", "Sunder Vale", "en"),
            new Passenger("P-2020", "Thea Morgenrot", "de"),
            new Passenger("P-2021", "Ulick Farran", "en"),
            new Passenger("P-2022", "Vera Castellmoor", "en"),
            new Passenger("P-2023", "Wendel Ostrom", "de"),
            new Passenger("P-2024", "Xenia Farrow-Lund", "en"),
            new Passenger("P-2025", "Yorick Penhale", "en"),
            new Passenger("P-2026", "Zelie Marchand", "fr"),
            new Passenger("P-2027", "Arlo Tidewell", "en"),
            new Passenger("P-2028", "Brona Skye", "en"));

    private Passengers() {}

    /** One of them; {@code language} is the one they write in. */
    record Passenger(String account, String name, String language) {
        String id() {
            return name.substring(0, name.indexOf(' ')).toLowerCase(java.util.Locale.ROOT);
        }
    }
}
