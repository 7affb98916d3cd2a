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
}
