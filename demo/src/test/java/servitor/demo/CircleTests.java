package servitor.demo;

import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The packages of all modules: none knows another that knows it, directly or by a third. */
class CircleTests {
    @Test
    void noPackagesGoInCircles() {
        slices().matching("servitor.(**)")
                .should()
                .beFreeOfCycles()
                .check(new ClassFileImporter()
                        .withImportOption(new ImportOption.DoNotIncludeTests())
                        .withImportOption(location -> !location.contains("-tests.jar"))
                        .importPackages("servitor"));
    }
}
