package servitor.service.dispatch;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;
import servitor.core.engine.Outcome;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import tools.jackson.databind.JsonNode;

/**
 * Answers of models kept in a folder, one file for each prompt by its digest, so that tests run on what a real model once said:
 * {@code servitor.models.record} names the folder that answers are written to, {@code servitor.models.recorded} the one that they are
 * taken from; no model is asked then, and a prompt that isn't there is a miss that says so.
 */
@Component
class RecordedAnswers {
    private final @Nullable Path record;
    private final @Nullable Path recorded;

    RecordedAnswers(
            @Value("${servitor.models.record:}") String record,
            @Value("${servitor.models.recorded:}") String recorded) {
        if (!record.isBlank() && !recorded.isBlank()) {
            throw new IllegalArgumentException(
                    "Answers of models are either recorded or taken from a record: set servitor.models.record or servitor.models.recorded, not both.");
        }
        this.record = record.isBlank() ? null : Path.of(record);
        this.recorded = recorded.isBlank() ? null : Path.of(recorded);
    }

    /** What is kept of an answer, beside the prompt for whoever reads the file. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Kept(
            Prompt prompt,
            String model,
            @Nullable JsonNode answer,
            @Nullable List<Wanted> calls,
            int tokens,
            @Nullable BigDecimal cost) {}

    /** The answer that was recorded, or that there is none; empty where models are to be asked. */
    Optional<Outcome> of(Prompt prompt, String id) {
        if (recorded == null) {
            return Optional.empty();
        }
        Path file = recorded.resolve(prompt.digest() + ".json");
        if (!Files.exists(file)) {
            return Optional.of(new Outcome.Done(new ModelFailed(
                    id,
                    Problem.UNAVAILABLE,
                    "no answer is recorded for the prompt " + prompt.digest().substring(0, 12) + " of ‘"
                            + begins(prompt)
                            + "’: it has changed since, or was never asked while servitor.models.record was set",
                    0)));
        }
        Kept kept = Json.read(read(file), Kept.class);
        return Optional.of(new Outcome.Done(
                kept.answer != null
                        ? new ModelAnswered(id, kept.model, kept.answer, kept.tokens, null, kept.cost)
                        : new ModelCalled(
                                id, kept.model, kept.calls == null ? List.of() : kept.calls, kept.tokens, kept.cost)));
    }

    /** Keeps an answer where answers are recorded; failures aren't. */
    void keep(Prompt prompt, Outcome outcome) {
        if (record == null) {
            return;
        } else if (outcome instanceof Outcome.WithTranscript with) {
            keep(prompt, with.outcome());
        } else if (outcome instanceof Outcome.Done done && done.input() instanceof ModelAnswered said) {
            write(record, prompt, new Kept(prompt, said.model(), said.answer(), null, said.tokens(), said.cost()));
        } else if (outcome instanceof Outcome.Done done && done.input() instanceof ModelCalled said) {
            write(record, prompt, new Kept(prompt, said.model(), null, said.wanted(), said.tokens(), said.cost()));
        }
    }

    private static void write(Path folder, Prompt prompt, Kept kept) {
        try {
            Files.createDirectories(folder);
            Path whole = Files.createTempFile(folder, "answer", ".tmp");
            Files.writeString(whole, Json.write(kept));
            Files.move(whole, folder.resolve(prompt.digest() + ".json"), StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new UncheckedIOException("the answer can't be recorded in " + folder, e);
        }
    }

    private static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw new UncheckedIOException("the recorded answer can't be read", e);
        }
    }

    /** The first line of what was asked. */
    private static String begins(Prompt prompt) {
        String asked = prompt.user().replaceFirst("^# Instruction\\n", "").strip();
        String line = asked.lines().findFirst().orElse("");
        return line.length() <= 80 ? line : line.substring(0, 79) + "…";
    }
}
