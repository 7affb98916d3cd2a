package servitor.demo;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * How processes of Java are started.
 *
 * @param classPath where their classes are
 * @param options of the virtual machine, for each of them
 */
record Java(String classPath, List<String> options) {
    Java {
        options = List.copyOf(options);
    }

    /** With the classes of this process. */
    static Java ofThisProcess() {
        return new Java(System.getProperty("java.class.path"), List.of());
    }

    /** A process that runs {@code main}, with more options for this one alone. */
    ProcessBuilder process(List<String> more, String main, String... arguments) {
        List<String> command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(options);
        command.addAll(more);
        command.addAll(List.of("-cp", classPath, main));
        command.addAll(List.of(arguments));
        return new ProcessBuilder(command);
    }
}
