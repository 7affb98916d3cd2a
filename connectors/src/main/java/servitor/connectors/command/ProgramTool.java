package servitor.connectors.command;

import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.ProgramAddress;
import servitor.core.engine.Reply;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding.Program;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.node.ObjectNode;

/**
 * A program on this machine, at the absolute path of an {@code exec:} address. There is no shell: each argument stays one
 * argument, and one that is wholly an input may not look like an option. The program gets an empty environment but for its
 * key, an empty folder of its own, and answers with JSON on its standard output; what isn't JSON becomes {@code text}.
 */
public final class ProgramTool implements Connector<Program> {

    @Override
    public Reply call(Access access, Program binding, ObjectNode args, String key, Deadline deadline)
            throws InterruptedException {
        ProgramAddress program = ProgramAddress.of(access.address());
        List<String> line = new ArrayList<>(List.of(program.path()));
        line.addAll(program.arguments());
        try {
            for (Template argument : binding.arguments()) {
                String text = argument.fill(Map.of("args", TracedValue.of(args, Origin.HANDBOOK)))
                        .value()
                        .asString("");
                if (argument.asPath().isPresent() && text.startsWith("-") || text.indexOf('\0') >= 0) {
                    return new Reply.Refused(Problem.INVALID, "an input looks like an option of the program");
                }
                line.add(text);
            }
        } catch (EvaluationFailed e) {
            return new Reply.Refused(Problem.INVALID, "an argument can't be made up: " + e.getMessage());
        }
        return run(line, program.variables(), key, deadline);
    }

    @Override
    public Reply test(Access access, Deadline deadline) {
        return new File(path(access)).canExecute()
                ? new Reply.Answered(200, Json.object().put("program", path(access)))
                : new Reply.NotSent("there is no program at " + path(access));
    }

    private static String path(Access access) {
        return ProgramAddress.of(access.address()).path();
    }

    private static Reply run(List<String> line, Map<String, String> variables, String key, Deadline deadline)
            throws InterruptedException {
        Process process;
        Path folder;
        try {
            folder = Files.createTempDirectory("servitor-program-");
            ProcessBuilder builder = new ProcessBuilder(line)
                    .directory(folder.toFile())
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .redirectInput(new File("/dev/null"));
            builder.environment().clear();
            builder.environment().putAll(variables);
            builder.environment().put("IDEMPOTENCY_KEY", key);
            process = builder.start();
        } catch (IOException e) {
            return new Reply.NotSent("the program can't be started");
        }
        CompletableFuture<byte[]> output = CompletableFuture.supplyAsync(() -> read(process.getInputStream()));
        try {
            byte[] bytes = output.get(deadline.millis(), TimeUnit.MILLISECONDS);
            if (bytes.length > LONGEST_ANSWER) {
                return new Reply.Unreadable("the program said more than " + LONGEST_ANSWER + " bytes");
            }
            if (!process.waitFor(deadline.millis(), TimeUnit.MILLISECONDS)) {
                return new Reply.Unknown("the program didn't end in time", true);
            }
            return process.exitValue() == 0
                    ? answer(new String(bytes, StandardCharsets.UTF_8))
                    : new Reply.Refused(Problem.INVALID, "the program ended with " + process.exitValue());
        } catch (TimeoutException e) {
            return new Reply.Unknown("the program didn't end in time", true);
        } catch (ExecutionException e) {
            return new Reply.Unknown("what the program said couldn't be read", false);
        } finally {
            process.descendants().forEach(ProcessHandle::destroyForcibly);
            process.destroyForcibly();
            empty(folder);
        }
    }

    private static byte[] read(InputStream output) {
        try (output) {
            return output.readNBytes(LONGEST_ANSWER + 1);
        } catch (IOException e) {
            return new byte[0];
        }
    }

    private static Reply answer(String text) {
        try {
            return new Reply.Answered(200, Outside.read(text));
        } catch (MalformedJson e) {
            return new Reply.Answered(200, Json.object().put("text", text.strip()));
        }
    }

    private static void empty(Path folder) {
        try (var files = Files.walk(folder)) {
            files.sorted(java.util.Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
        } catch (IOException e) {
            // a folder of its own for the next one; the system clears its temporary files
        }
    }
}
