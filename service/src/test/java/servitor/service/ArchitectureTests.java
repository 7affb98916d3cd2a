package servitor.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The directions in which the modules and packages may know each other. */
class ArchitectureTests {
    private static final JavaClasses ALL = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("servitor");

    @Test
    void onlyTheLedgerTouchesTheDatabase() {
        noClasses()
                .that()
                .resideOutsideOfPackage("servitor.service.ledger..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "org.apache.ibatis..",
                        "java.sql..",
                        "org.h2..",
                        "org.springframework.jdbc..",
                        "org.springframework.transaction..")
                .check(ALL);
    }

    @Test
    void onlyTheToolGateReachesAConnectorsCall() {
        noClasses()
                .that()
                .doNotHaveFullyQualifiedName("servitor.service.dispatch.ToolGate")
                .and()
                .resideOutsideOfPackage("servitor.connectors..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("servitor.connectors.http..")
                .check(ALL);
        noClasses()
                .that()
                .doNotHaveFullyQualifiedName("servitor.service.dispatch.ModelGateway")
                .and()
                .resideOutsideOfPackage("servitor.connectors..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("servitor.connectors.model..")
                .check(ALL);
    }

    @Test
    void connectorsDontKnowTheService() {
        noClasses()
                .that()
                .resideInAPackage("servitor.connectors..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("servitor.service..")
                .check(ALL);
    }

    @Test
    void nothingBelowKnowsTheApi() {
        noClasses()
                .that()
                .resideInAnyPackage(
                        "servitor.service.ledger..",
                        "servitor.service.runs..",
                        "servitor.service.dispatch..",
                        "servitor.service.cases..",
                        "servitor.service.approvals..",
                        "servitor.service.editions..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("servitor.service.api..")
                .check(ALL);
        noClasses()
                .that()
                .resideInAPackage("servitor.service.ledger..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "servitor.service.runs..",
                        "servitor.service.dispatch..",
                        "servitor.service.cases..",
                        "servitor.service.approvals..",
                        "servitor.service.people..")
                .check(ALL);
    }

    @Test
    void theTimeComesFromTheOneClock() {
        noClasses()
                .that()
                .resideInAPackage("servitor.service..")
                .should()
                .callMethod(java.time.Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .check(ALL);
    }
}
