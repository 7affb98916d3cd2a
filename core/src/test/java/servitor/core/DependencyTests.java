package servitor.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The core is pure: it knows nothing of the web, the database, the network or threads, and asks nobody for the time. */
class DependencyTests {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("servitor.core");

    @Test
    void theCoreKnowsNoShell() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "org.springframework..",
                        "java.sql..",
                        "javax.sql..",
                        "java.net..",
                        "java.nio.file..",
                        "servitor.service..",
                        "servitor.connectors..",
                        "servitor.cli..")
                .check(CORE);
    }

    @Test
    void theCoreNeverAsksForTheTime() {
        noClasses()
                .should()
                .callMethod(java.time.Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .orShould()
                .callMethod(System.class, "nanoTime")
                .check(CORE);
    }

    /** The language can be read, checked, explained and compared without the engine that runs it. */
    @Test
    void theLanguageKnowsNothingOfTheEngine() {
        noClasses()
                .that()
                .resideInAnyPackage(
                        "servitor.core.json..",
                        "servitor.core.shape..",
                        "servitor.core.origin..",
                        "servitor.core.expression..",
                        "servitor.core.handbook..",
                        "servitor.core.explain..",
                        "servitor.core.compare..",
                        "servitor.core.catalogue..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "servitor.core.run..",
                        "servitor.core.engine..",
                        "servitor.core.mandate..",
                        "servitor.core.approval..",
                        "servitor.core.prompt..",
                        "servitor.core.trail..")
                .check(CORE);
    }
}
