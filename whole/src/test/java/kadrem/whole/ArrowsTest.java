package kadrem.whole;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

/** The arrows between the modules point one way only. */
@AnalyzeClasses(packages = "kadrem", importOptions = ImportOption.DoNotIncludeTests.class)
final class ArrowsTest {
    @ArchTest
    static final ArchRule CORE_IS_PURE = noClasses().that().resideInAPackage("kadrem.core..").should()
            .dependOnClassesThat(resideInAnyPackage("java.io..", "java.nio.file..", "java.nio.channels..", "java.net..",
                    "javafx..", "java.awt..", "org.slf4j..", "io.netty..", "com.fasterxml..", "oshi.."));

    @ArchTest
    static final ArchRule CORE_HAS_NO_CLOCK_AND_NO_CHANCE = noClasses().that().resideInAPackage("kadrem.core..")
            .should().callMethod(System.class, "nanoTime").orShould().callMethod(System.class, "currentTimeMillis")
            .orShould().callMethod(java.time.Instant.class, "now").orShould()
            .dependOnClassesThat().haveFullyQualifiedName("java.util.Random").orShould()
            .dependOnClassesThat().haveFullyQualifiedName("java.lang.Thread");

    @ArchTest
    static final ArchRule CORE_KNOWS_ONLY_ITSELF = arrow("kadrem.core..", "kadrem.core..");
    @ArchTest
    static final ArchRule LOAD_KNOWS_CORE = arrow("kadrem.load..", "kadrem.load..", "kadrem.core..");
    @ArchTest
    static final ArchRule FIGURES_KNOW_CORE = arrow("kadrem.figures..", "kadrem.figures..", "kadrem.core..");
    @ArchTest
    static final ArchRule FIGURES_ARE_OF_NO_MEDIUM = noClasses().that().resideInAPackage("kadrem.figures..").should()
            .dependOnClassesThat(resideInAnyPackage("javafx..", "org.jfree.chart.fx.."));
    @ArchTest
    static final ArchRule FILES_KNOWS_CORE_AND_FIGURES = arrow("kadrem.files..", "kadrem.files..", "kadrem.figures..",
            "kadrem.core..");
    @ArchTest
    static final ArchRule CLI_KNOWS_ALL_BUT_THE_WINDOW = arrow("kadrem.cli..", "kadrem.cli..", "kadrem.load..",
            "kadrem.files..", "kadrem.core..");
    @ArchTest
    static final ArchRule DESK_KNOWS_ALL_BUT_THE_COMMAND_LINE = arrow("kadrem.desk..", "kadrem.desk..",
            "kadrem.load..", "kadrem.files..", "kadrem.figures..", "kadrem.core..");
    @ArchTest
    static final ArchRule STAND_INS_KNOW_ONLY_THEIR_MESSAGES = arrow("kadrem.standins..", "kadrem.standins..",
            "kadrem.rpc..");
    @ArchTest
    static final ArchRule NO_CIRCLES_IN_CORE_STATISTICS = slices().matching("kadrem.core.(stats|verdict|measure)..")
            .should().beFreeOfCycles();

    private static ArchRule arrow(String from, String... to) {
        return classes().that().resideInAPackage(from).should().onlyDependOnClassesThat(
                resideInAnyPackage(to).or(not(resideInAnyPackage("kadrem.."))));
    }
}
