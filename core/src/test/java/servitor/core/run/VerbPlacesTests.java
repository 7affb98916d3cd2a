package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import servitor.core.explain.Explainer;
import servitor.core.handbook.Verb;
import servitor.core.handbook.VerbForm;
import servitor.core.handbook.check.CheckedVerbs;
import servitor.core.handbook.read.PageWords;

/** Every place that has to know of a verb knows of each: a new one is told here where it is missing. */
class VerbPlacesTests {
    private static final Set<Class<?>> VERBS = Set.of(Verb.class.getPermittedSubclasses());

    private static <T> Set<Class<?>> types(Stream<T> all, Function<T, Class<?>> type) {
        return all.map(type).collect(Collectors.toSet());
    }

    @Test
    void everyVerbIsDeclaredReadCheckedExplainedAndCarriedOut() {
        assertThat(types(Arrays.stream(VerbForm.values()), VerbForm::type))
                .as("constants of VerbForm")
                .isEqualTo(VERBS);
        assertThat(types(PageWords.readable().stream(), VerbForm::type))
                .as("readers in StepReader")
                .isEqualTo(VERBS);
        assertThat(CheckedVerbs.all()).as("rules in StepChecker").isEqualTo(VERBS);
        assertThat(Explainer.explained()).as("sentences in Explainer").isEqualTo(VERBS);
        assertThat(RunMachine.handled()).as("handlers in RunMachine").isEqualTo(VERBS);
    }

    @Test
    void whatSkipsHasNoAnswerThatOthersRestOn() {
        assertThat(VerbForm.values())
                .filteredOn(form -> form.is(VerbForm.Trait.SKIPPABLE))
                .noneMatch(form -> form.is(VerbForm.Trait.THINKS) || form.is(VerbForm.Trait.ENDS));
    }
}
