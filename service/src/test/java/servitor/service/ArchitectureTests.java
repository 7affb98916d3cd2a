package servitor.service;

import static com.tngtech.archunit.core.domain.JavaCall.Predicates.target;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.core.domain.properties.HasName.Predicates.name;
import static com.tngtech.archunit.core.domain.properties.HasOwner.Predicates.With.owner;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.function.Function;
import org.apache.ibatis.annotations.Mapper;
import org.junit.jupiter.api.Test;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** The directions in which the modules and packages may know each other. */
class ArchitectureTests {
    private static final JavaClasses ALL = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .withImportOption(location -> !location.contains("-tests.jar") && !location.contains("/test-classes/"))
            .importPackages("servitor");

    @Test
    void onlyMappersAndTheLedgerTouchTheDatabase() {
        noClasses()
                .that()
                .resideOutsideOfPackages(
                        "servitor.service.ledger..", "servitor.connectors.sql..") // databases of others
                .and()
                .haveSimpleNameNotEndingWith("Mapper")
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
    void eachFeaturesTablesAreReachedByItsStores() {
        noClasses()
                .that()
                .resideOutsideOfPackage("servitor.service.ledger..")
                .and()
                .haveSimpleNameNotEndingWith("Store")
                .should()
                .dependOnClassesThat()
                .areAnnotatedWith(Mapper.class)
                .check(ALL);
    }

    @Test
    void controllersOpenNoTransactions() {
        noClasses()
                .that()
                .resideInAPackage("servitor.service.api..")
                .should()
                .callMethod(Writer.class, "write", Function.class)
                .orShould()
                .callMethod(Writer.class, "submit", Function.class)
                .check(ALL);
    }

    @Test
    void whatIsOnlyTriedReachesNoTool() {
        noClasses()
                .that()
                .resideInAnyPackage(
                        "servitor.core.rehearsal..", "servitor.service.lookback..", "servitor.service.tries..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("servitor.connectors..", "java.net..")
                .orShould()
                .dependOnClassesThat()
                .haveFullyQualifiedName("servitor.service.dispatch.ToolGate")
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
                .callMethodWhere(target(name("call")).and(target(owner(resideInAPackage("servitor.connectors..")))))
                .check(ALL);
        noClasses()
                .that()
                .resideOutsideOfPackage("servitor.connectors..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "servitor.connectors.http..",
                        "servitor.connectors.operation..",
                        "servitor.connectors.ldap..",
                        "servitor.connectors.sql..",
                        "servitor.connectors.terminal..",
                        "servitor.connectors.command..")
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
    void onlyTheGatesTellerSendsMailsAndMessages() {
        noClasses()
                .that()
                .doNotHaveFullyQualifiedName("servitor.service.dispatch.Teller")
                .and()
                .resideOutsideOfPackage("servitor.connectors..")
                .should()
                .dependOnClassesThat()
                .haveFullyQualifiedName("servitor.connectors.mail.MailSubmission")
                .orShould()
                .dependOnClassesThat()
                .resideInAPackage("servitor.connectors.webhook..")
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

    /** Roles are judged by the one policy. */
    @Test
    void onlyTheFeatureOfPeopleAsksForRoles() {
        noClasses()
                .that()
                .resideOutsideOfPackage("servitor.service.people..")
                .should()
                .callMethod(Person.class, "is", Role[].class)
                .check(ALL);
    }
}
