package kadrem.whole;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.assignableTo;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import kadrem.desk.look.Background;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.CandidateProcess;
import kadrem.load.campaign.Rehearsing;
import kadrem.load.campaign.SelfCheck;
import kadrem.load.campaign.TwoCommits;

/** The arrows between the modules point one way only, and so do those between the packages of each. */
@AnalyzeClasses(packages = "kadrem", importOptions = OfTheProduct.class)
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
    static final ArchRule WORK_KNOWS_CORE_LOAD_AND_FILES = arrow("kadrem.work..", "kadrem.work..", "kadrem.load..",
            "kadrem.files..", "kadrem.core..");
    @ArchTest
    static final ArchRule CLI_KNOWS_ALL_BUT_THE_WINDOW = arrow("kadrem.cli..", "kadrem.cli..", "kadrem.work..",
            "kadrem.load..", "kadrem.files..", "kadrem.core..");
    @ArchTest
    static final ArchRule DESK_KNOWS_ALL_BUT_THE_COMMAND_LINE = arrow("kadrem.desk..", "kadrem.desk..",
            "kadrem.work..", "kadrem.load..", "kadrem.files..", "kadrem.figures..", "kadrem.core..");
    @ArchTest
    static final ArchRule STAND_INS_KNOW_ONLY_THEIR_MESSAGES = arrow("kadrem.standins..", "kadrem.standins..",
            "kadrem.rpc..");

    /** What a front end would do by itself the other would do otherwise. */
    @ArchTest
    static final ArchRule FRONT_ENDS_MEASURE_BY_WORK = noClasses().that()
            .resideInAnyPackage("kadrem.cli..", "kadrem.desk..").should()
            .dependOnClassesThat(assignableTo(Campaign.class).or(assignableTo(SelfCheck.class))
                    .or(assignableTo(Rehearsing.class)).or(assignableTo(CandidateProcess.class))
                    .or(assignableTo(TwoCommits.class)));

    @ArchTest
    static final ArchRule THE_WINDOW_HAS_ONE_WAY_OFF_ITS_THREAD = noClasses().that()
            .resideInAPackage("kadrem.desk..").and().doNotHaveFullyQualifiedName(Background.class.getName())
            .and().areNotAssignableTo(Background.Running.class).should()
            .dependOnClassesThat(assignableTo(ExecutorService.class).or(assignableTo(Executors.class)))
            .orShould().callMethod(Thread.class, "ofVirtual").orShould().callMethod(Thread.class, "ofPlatform")
            .orShould().callConstructor(Thread.class, Runnable.class);

    @ArchTest
    static final ArchRule NO_KNOT_IN_CORE = noKnots("core");
    @ArchTest
    static final ArchRule NO_KNOT_IN_LOAD = noKnots("load");
    @ArchTest
    static final ArchRule NO_KNOT_IN_FILES = noKnots("files");
    @ArchTest
    static final ArchRule NO_KNOT_IN_STAND_INS = noKnots("standins");
    @ArchTest
    static final ArchRule NO_KNOT_IN_DESK = noKnots("desk");

    private static ArchRule noKnots(String module) {
        return slices().matching("kadrem." + module + ".(*)..").should().beFreeOfCycles();
    }

    private static ArchRule arrow(String from, String... to) {
        return classes().that().resideInAPackage(from).should().onlyDependOnClassesThat(
                resideInAnyPackage(to).or(not(resideInAnyPackage("kadrem.."))));
    }
}
